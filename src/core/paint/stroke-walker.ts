import { gridNoise } from '../math/noise'
import type { BrushParams } from './brush'

/** What a pen tells at a moment. */
export interface PenSample {
  /** Sheet pixels. */
  readonly x: number
  readonly y: number
  /** 0…1. */
  readonly pressure: number
  /** How far it leans to the right and towards the hand, −90…90 degrees; 0 where it stands upright, or does not tell. */
  readonly tiltX: number
  readonly tiltY: number
  /** About its own axis, degrees. */
  readonly twist: number
  /** Milliseconds since the stroke began. */
  readonly at: number
}

/** A tip pressed once. Sheet pixels. */
export interface Dab {
  readonly x: number
  readonly y: number
  /** Half the tip's width; its height is less by its roundness. */
  readonly radius: number
  readonly roundness: number
  /** Clockwise on the sheet, radians. */
  readonly angle: number
  readonly flow: number
  /** Where the stroke began: its grain holds to that. */
  readonly originX: number
  readonly originY: number
}

interface Place {
  x: number
  y: number
  pressure: number
  tiltX: number
  tiltY: number
  twist: number
}

/** A press, and how far along the way it is. */
interface Pressed {
  readonly dab: Dab
  readonly at: number
}

/** How long the string of a steady hand is at most, in widths of the tip. */
const STRING = 1.5
/** Presses are never closer. Sheet pixels. */
const LEAST_SPACING = 0.2
/** The longest step along a way, as a share of the distance between two presses. */
const STEP = 0.5

/**
 * Follows a pen and tells where its tip is pressed: at even distances along a smooth way through what the pen tells. The same
 * samples give the same presses, however they come in.
 */
export class StrokeWalker {
  private readonly string: number
  /** Where the tip is led: on a string behind the pen. */
  private led: Place | null = null
  private before: Place | null = null
  /** The end of the way that was walked. */
  private end: Place | null = null
  /** How far the way was walked, and how far it was when the tip was pressed last. */
  private walked = 0
  private pressedAt = -Infinity
  private count = 0
  private direction = 0
  private restedFrom = 0
  /** Presses near the end of the way: they grow thin where the stroke ends. With how far along they are. */
  private held: Pressed[] = []
  private origin: readonly [number, number] = [0, 0]

  constructor(
    private readonly brush: BrushParams,
    private readonly seed: number,
  ) {
    this.string = STRING * brush.steady * brush.size
  }

  /** Where the tip is led to now; null before the first sample. */
  get tip(): { readonly x: number; readonly y: number } | null {
    return this.led
  }

  /** Takes up what the pen tells. @returns the presses that it leads to, in order. */
  add(sample: PenSample): Dab[] {
    const dabs: Pressed[] = []
    const pen: Place = { ...sample }
    if (!this.led) {
      this.led = pen
      this.end = pen
      this.origin = [pen.x, pen.y]
      this.restedFrom = sample.at
      this.press(pen, dabs)
      return this.release(dabs)
    }
    const [dx, dy] = [pen.x - this.led.x, pen.y - this.led.y]
    const far = Math.hypot(dx, dy)
    this.rest(sample, far, dabs)
    if (far > this.string && far > 1e-6) {
      const share = (far - this.string) / far
      this.lead({ ...pen, x: this.led.x + share * dx, y: this.led.y + share * dy }, dabs)
    } else this.led = { ...pen, x: this.led.x, y: this.led.y }
    return this.release(dabs)
  }

  /** The pen is lifted: the way ends where it is, thin if it tapers. */
  finish(last: PenSample | null = null): Dab[] {
    const dabs: Pressed[] = []
    if (last && this.led && this.string > 0) this.lead({ ...last }, dabs)
    if (this.before && this.led && this.end) this.walk(this.end, this.led, this.led, dabs)
    const { taperOut } = this.brush
    const ready = [...this.held, ...dabs]
    this.held = []
    return ready.flatMap(({ dab, at }) => {
      const left = taperOut > 0 ? Math.min(1, (this.walked - at) / taperOut) : 1
      return left > 0 || this.count <= 1 ? [{ ...dab, radius: dab.radius * Math.max(0.05, left) }] : []
    })
  }

  private lead(to: Place, dabs: Pressed[]): void {
    const from = this.led
    if (!from || !this.end) return
    this.led = to
    if (this.before) {
      // A curve from the middle of one step to the middle of the next, drawn towards the place between.
      const middle = between(from, to, 0.5)
      this.walk(this.end, from, middle, dabs)
      this.end = middle
    } else {
      const middle = between(from, to, 0.5)
      this.walk(from, middle, middle, dabs)
      this.end = middle
    }
    this.before = from
  }

  /** A pen that rests presses again and again, if its brush does. */
  private rest({ at }: PenSample, far: number, dabs: Pressed[]): void {
    const { atRest } = this.brush
    if (atRest <= 0 || !this.led) return
    if (far > Math.max(0.5, this.string)) {
      this.restedFrom = at
      return
    }
    const due = Math.min(60, Math.floor(((at - this.restedFrom) / 1000) * atRest))
    for (let i = 0; i < due; i++) this.press(this.led, dabs)
    this.restedFrom += (due * 1000) / atRest
  }

  /** Walks a quadratic Bézier curve, in short straight steps. */
  private walk(from: Place, control: Place, to: Place, dabs: Pressed[]): void {
    const length =
      Math.hypot(control.x - from.x, control.y - from.y) + Math.hypot(to.x - control.x, to.y - control.y)
    if (length < 1e-9) return
    const step = Math.max(0.25, STEP * this.distance(to))
    const steps = Math.min(4096, Math.ceil(length / step))
    let last = from
    for (let i = 1; i <= steps; i++) {
      const t = i / steps
      const place = between(between(from, control, t), between(control, to, t), t)
      this.straight(last, place, dabs)
      last = place
    }
  }

  private straight(from: Place, to: Place, dabs: Pressed[]): void {
    const length = Math.hypot(to.x - from.x, to.y - from.y)
    if (length === 0) return
    this.direction = Math.atan2(to.y - from.y, to.x - from.x)
    const start = this.walked
    for (let guard = 0; guard < 4096; guard++) {
      const due = this.pressedAt + this.distance(to)
      if (due > start + length) break
      this.walked = Math.max(start, due)
      this.press(between(from, to, (this.walked - start) / length), dabs)
    }
    this.walked = start + length
  }

  private pressed01(pressure: number): number {
    return Math.min(1, Math.max(0, pressure)) ** this.brush.pressure
  }

  private sizeAt(pressure: number): number {
    const { size, leastSize } = this.brush
    return size * (leastSize + (1 - leastSize) * this.pressed01(pressure))
  }

  /** From one press to the next. */
  private distance({ pressure }: Place): number {
    const { spacing, roundness, turns } = this.brush
    // A narrow tip across its way is pressed more often.
    const across = turns === 'stroke' ? 1 : 0.35 + 0.65 * roundness
    return Math.max(LEAST_SPACING, spacing * across * this.sizeAt(pressure))
  }

  private random(what: number): number {
    return gridNoise(this.count, what, this.seed)
  }

  private press(place: Place, dabs: Pressed[]): void {
    const { brush } = this
    const { pressure } = place
    const taper = brush.taperIn > 0 ? Math.min(1, this.walked / brush.taperIn) : 1
    const size = this.sizeAt(pressure) * (1 - brush.jitterSize * this.random(1)) * Math.max(0.05, taper)
    const flow =
      brush.flow *
      (brush.leastFlow + (1 - brush.leastFlow) * this.pressed01(pressure)) *
      (1 - brush.jitterFlow * this.random(2))
    const off = brush.scatter * size * Math.sqrt(this.random(3))
    const way = 2 * Math.PI * this.random(4)
    this.pressedAt = this.walked
    const dab = {
      x: place.x + off * Math.cos(way),
      y: place.y + off * Math.sin(way),
      radius: size / 2,
      roundness: brush.roundness,
      angle: this.angleOf(place) + brush.jitterAngle * 2 * Math.PI * (this.random(5) - 0.5),
      flow,
      originX: this.origin[0],
      originY: this.origin[1],
    }
    dabs.push({ dab, at: this.walked })
    this.count++
  }

  private angleOf({ tiltX, tiltY, twist }: Place): number {
    const { turns, angleDeg } = this.brush
    const own = (angleDeg * Math.PI) / 180
    if (turns === 'stroke') return own + this.direction
    if (turns === 'twist') return own + (twist * Math.PI) / 180
    if (turns === 'tilt' && (tiltX !== 0 || tiltY !== 0)) return own + Math.atan2(tiltY, tiltX)
    return own
  }

  /** Holds back the presses that may be the stroke's end. */
  private release(dabs: readonly Pressed[]): Dab[] {
    const { taperOut } = this.brush
    if (taperOut <= 0) return dabs.map(({ dab }) => dab)
    this.held.push(...dabs)
    const free = this.held.filter(({ at }) => this.walked - at > taperOut)
    this.held = this.held.slice(free.length)
    return free.map(({ dab }) => dab)
  }
}

const between = (a: Place, b: Place, t: number): Place => ({
  x: a.x + t * (b.x - a.x),
  y: a.y + t * (b.y - a.y),
  pressure: a.pressure + t * (b.pressure - a.pressure),
  tiltX: a.tiltX + t * (b.tiltX - a.tiltX),
  tiltY: a.tiltY + t * (b.tiltY - a.tiltY),
  twist: b.twist,
})
