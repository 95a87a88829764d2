/** The frames that are played, and in which order: pure, so that it is tested without a canvas. */
export interface Film {
  /** Names of the frames, by number; null where one is not there. */
  readonly names: readonly (string | null)[]
  /** Frames a second. */
  readonly rate: number
  /** What is played: from a frame to before another. */
  readonly from: number
  readonly to: number
  /** There and back again, or round and round. */
  readonly isPingPong: boolean
}

/** How many frames a round has. Of one that goes there and back the ends are shown once. */
export const roundLength = ({ from, to, isPingPong }: Pick<Film, 'from' | 'to' | 'isPingPong'>): number => {
  const count = Math.max(1, to - from)
  return isPingPong && count > 2 ? 2 * count - 2 : count
}

/** The frame that is due after so many since the beginning; before it where negative. */
export function frameDue(film: Pick<Film, 'from' | 'to' | 'isPingPong'>, steps: number): number {
  const round = roundLength(film)
  const at = ((steps % round) + round) % round
  const count = Math.max(1, film.to - film.from)
  return film.from + (at < count ? at : round - at)
}

/** How many steps after the beginning a frame is due for the first time. */
export const stepsTo = ({ from, to }: Pick<Film, 'from' | 'to'>, frame: number): number =>
  Math.min(Math.max(0, to - from - 1), Math.max(0, frame - from))

/** The frame itself where it is there, else the nearest before it that is, round the end; null where none is. */
export function nearestThere({ names }: Pick<Film, 'names'>, frame: number): number | null {
  for (let back = 0; back < names.length; back++) {
    const at = (((frame - back) % names.length) + names.length) % names.length
    if (names[at] !== null) return at
  }
  return null
}
