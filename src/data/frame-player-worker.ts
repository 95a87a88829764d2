import { z } from 'zod'
import { frameDue, nearestThere, stepsTo, type Film } from './frame-film'
import { loadFrame } from './stored-frames'

/** Plays frames of a turntable on a canvas of its own, beside the page: whatever that does, none is dropped for it. */
const askSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('canvas'),
    canvas: z.custom<OffscreenCanvas>((v) => typeof v === 'object' && v !== null && 'getContext' in v),
  }),
  z.strictObject({
    type: z.literal('film'),
    projectId: z.string(),
    width: z.number().int().positive(),
    height: z.number().int().positive(),
    film: z.strictObject({
      names: z.array(z.string().nullable()),
      rate: z.number().positive(),
      from: z.number().int().min(0),
      to: z.number().int().min(0),
      isPingPong: z.boolean(),
    }),
  }),
  z.strictObject({ type: z.literal('play'), from: z.number() }),
  z.strictObject({ type: z.literal('pause') }),
  z.strictObject({
    type: z.literal('show'),
    frame: z.number().int().min(0),
    /** Another frame that is laid over it, by half or as what differs. */
    over: z.number().int().min(0).nullable(),
    by: z.enum(['ghost', 'difference']),
  }),
])
export type PlayerAsk = z.infer<typeof askSchema>
export type PlayerTold =
  /** While it plays. */
  | { readonly type: 'at'; readonly frame: number; readonly dropped: number; readonly shown: number }
  /** What was to be shown is. */
  | { readonly type: 'shown'; readonly frame: number }
  | { readonly type: 'missing'; readonly frame: number }

/** Frames that are decoded before they are due. */
const AHEAD = 12
/** The most bytes of decoded frames. */
const MOST_BYTES = 192 * 2 ** 20
/** What differs is shown so many times as bright. */
const DIFFERENCE_GAIN = 6
/** Between two words on where it is. Milliseconds. */
const TELL_MS = 90

const tell = (told: PlayerTold): void => self.postMessage(told)

class Player {
  private canvas: OffscreenCanvas | null = null
  private film: Film | null = null
  private projectId = ''
  private size = { width: 1, height: 1 }
  /** Decoded frames by name, the one asked for last at the end. */
  private readonly decoded = new Map<string, ImageBitmap>()
  private readonly decoding = new Map<string, Promise<ImageBitmap | null>>()
  private playing: { begun: number; steps: number; last: number; dropped: number; shown: number } | null =
    null
  private asked = 0
  private told = 0

  take(ask: PlayerAsk): void {
    switch (ask.type) {
      case 'canvas':
        this.canvas = ask.canvas
        return
      case 'film':
        if (ask.projectId !== this.projectId) this.forget()
        this.projectId = ask.projectId
        this.film = ask.film
        this.size = { width: ask.width, height: ask.height }
        return
      case 'play': {
        if (!this.film) return
        const steps = stepsTo(this.film, ask.from)
        const isAtWork = this.playing !== null
        this.playing = { begun: performance.now(), steps, last: steps - 1, dropped: 0, shown: 0 }
        if (!isAtWork) this.next()
        return
      }
      case 'pause':
        this.playing = null
        return
      case 'show':
        this.playing = null
        void this.show(ask)
    }
  }

  private forget(): void {
    for (const bitmap of this.decoded.values()) bitmap.close()
    this.decoded.clear()
  }

  private next(): void {
    requestAnimationFrame(() => {
      if (!this.playing) return
      this.tick(this.playing)
      this.next()
    })
  }

  private tick(playing: NonNullable<Player['playing']>): void {
    const { film } = this
    if (!film) return
    const now = performance.now()
    const due = playing.steps + Math.floor(((now - playing.begun) * film.rate) / 1000)
    // 1. What comes is decoded.
    for (let step = due; step < due + AHEAD; step++) {
      const at = nearestThere(film, frameDue(film, step))
      const name = at === null ? null : film.names[at]
      if (name !== null) void this.bitmap(name)
    }
    // 2. What is due is shown, once.
    if (due === playing.last) return
    const frame = frameDue(film, due)
    const at = nearestThere(film, frame)
    const name = at === null ? null : film.names[at]
    const bitmap = name === null ? undefined : this.decoded.get(name)
    if (name !== null && !bitmap) return
    playing.dropped += Math.max(0, due - playing.last - 1)
    playing.shown++
    playing.last = due
    if (bitmap) this.draw([bitmap], 'ghost')
    if (now - this.told < TELL_MS) return
    this.told = now
    tell({ type: 'at', frame, dropped: playing.dropped, shown: playing.shown })
  }

  private async show({ frame, over, by }: Extract<PlayerAsk, { type: 'show' }>): Promise<void> {
    const number = ++this.asked
    const names = [frame, ...(over === null ? [] : [over])].map((one) => this.film?.names[one] ?? null)
    const bitmaps = await Promise.all(names.map((name) => (name === null ? null : this.bitmap(name))))
    if (number !== this.asked || this.playing) return
    const there = bitmaps.flatMap((bitmap) => bitmap ?? [])
    if (there.length < names.length) {
      tell({ type: 'missing', frame })
      return
    }
    this.draw(there, by)
    tell({ type: 'shown', frame })
  }

  private bitmap(name: string): Promise<ImageBitmap | null> {
    const known = this.decoded.get(name)
    if (known) {
      this.decoded.delete(name)
      this.decoded.set(name, known)
      return Promise.resolve(known)
    }
    const before = this.decoding.get(name)
    if (before) return before
    const projectId = this.projectId
    const made = loadFrame(projectId, name)
      .then((picture) => picture && createImageBitmap(picture, { colorSpaceConversion: 'none' }))
      .then((bitmap) => {
        if (bitmap && projectId === this.projectId) this.keep(name, bitmap)
        return bitmap
      })
      .catch(() => null)
      .finally(() => this.decoding.delete(name))
    this.decoding.set(name, made)
    return made
  }

  private keep(name: string, bitmap: ImageBitmap): void {
    this.decoded.set(name, bitmap)
    const most = Math.max(2 * AHEAD, Math.floor(MOST_BYTES / (4 * bitmap.width * bitmap.height)))
    for (const [old, own] of this.decoded) {
      if (this.decoded.size <= most) return
      this.decoded.delete(old)
      own.close()
    }
  }

  private draw(bitmaps: readonly ImageBitmap[], by: 'ghost' | 'difference'): void {
    const { canvas } = this
    const context = canvas?.getContext('2d')
    if (!canvas || !context) return
    const { width, height } = this.size
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height })
    context.globalAlpha = 1
    context.globalCompositeOperation = 'copy'
    context.drawImage(bitmaps[0], 0, 0, width, height)
    if (bitmaps.length < 2) return
    context.globalCompositeOperation = by === 'ghost' ? 'source-over' : 'difference'
    context.globalAlpha = by === 'ghost' ? 0.5 : 1
    context.drawImage(bitmaps[1], 0, 0, width, height)
    if (by === 'ghost') return
    context.globalCompositeOperation = 'copy'
    context.filter = `brightness(${DIFFERENCE_GAIN})`
    context.drawImage(canvas, 0, 0)
    context.filter = 'none'
    // What is the same in both is black, not clear.
    context.globalCompositeOperation = 'destination-over'
    context.fillStyle = '#000'
    context.fillRect(0, 0, width, height)
  }
}

const player = new Player()
self.onmessage = (event: MessageEvent<unknown>) => player.take(askSchema.parse(event.data))
