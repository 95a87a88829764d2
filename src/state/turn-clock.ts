import type { TurnPose } from '@/data/turn-frames'

/** Poses that are counted: the scene may become dearer as it turns. */
const LAST = 24
/** Farther from any other, all of a pose is new to the surfaces: as a share of the distance from which it is seen. */
const ALL_NEW = 1
/** What all of a pose being new costs usually, by what it costs otherwise (bench/turning-passes.ts); and how much that counts. */
const USUAL = 1.4
const PULL = 0.02
/** What every pose takes, in passes. */
const BASE = 1

type Posed = Pick<TurnPose, 'passIds' | 'poses'>

const weightOf = ({ passIds, poses }: Posed): number => poses.length * (BASE + passIds.length)

/** How far two poses are apart, as a share of the distance from which they look; no more than {@link ALL_NEW}. */
function apart({ poses: [{ camera: a }] }: Posed, { poses: [{ camera: b }] }: Posed): number {
  const far = Math.hypot(...a.eye.map((v, i) => v - a.target[i])) || 1
  return Math.min(ALL_NEW, Math.hypot(...a.eye.map((v, i) => v - b.eye[i])) / far)
}
const nearest = (pose: Posed, others: readonly Posed[]): number =>
  others.reduce((least, other) => Math.min(least, apart(pose, other)), ALL_NEW)

/**
 * How long what is left of a turntable will take, by what went before. A pose costs what its passes do, and more the farther it is
 * from all that were rendered: what is kept on the surfaces has to be made there first.
 */
export class TurnClock {
  private readonly done: Posed[] = []
  private readonly told: { readonly weight: number; readonly fresh: number; readonly seconds: number }[] = []

  /** @param seconds that a pose took. */
  tell(pose: Posed, seconds: number): void {
    const weight = weightOf(pose)
    this.told.push({ weight, fresh: weight * nearest(pose, this.done), seconds })
    if (this.told.length > LAST) this.told.shift()
    this.done.push(pose)
  }

  /** @param left in the order in which they are rendered. @returns null before two poses were told. */
  secondsLeft(left: readonly Posed[]): number | null {
    if (this.told.length < 2) return null
    // The first waits for what comes but once.
    const [each, new_] = fitted(this.told.length > 2 ? this.told.slice(1) : this.told)
    const before = [...this.done]
    let sum = 0
    for (const pose of left) {
      sum += weightOf(pose) * (each + new_ * nearest(pose, before))
      before.push(pose)
    }
    return sum
  }
}

/** Seconds = a · weight + b · fresh, by least squares; neither below 0. */
function fitted(
  told: readonly { readonly weight: number; readonly fresh: number; readonly seconds: number }[],
): readonly [number, number] {
  let [ww, wf, ff, ws, fs] = [0, 0, 0, 0, 0]
  for (const { weight, fresh, seconds } of told) {
    ww += weight * weight
    wf += weight * fresh
    ff += fresh * fresh
    ws += weight * seconds
    fs += fresh * seconds
  }
  // Poses that are all as new tell nothing of what newness costs: what is usual stands in, and gives way to what is seen.
  const pull = PULL * ff
  ww += pull * USUAL * USUAL
  wf -= pull * USUAL
  ff += pull
  const det = ww * ff - wf * wf
  const [a, b] = det > 1e-12 * ww * ff ? [(ff * ws - wf * fs) / det, (ww * fs - wf * ws) / det] : [ws / ww, 0]
  if (b < 0) return [ws / ww, 0]
  return a < 0 ? [0, fs / ff] : [a, b]
}
