import type { Coarseness } from '@/core/sheet/evaluate/sheet-plan'

/** What a hand is shown should take no longer, … */
const MOST_MS = 30
/** … and what takes less may be tried with four times as many pixels: at a quarter of the size most of it is not for pixels. */
const EASE_MS: Readonly<Record<Coarseness, number>> = { 1: 0, 2: 8, 4: 15 }
/** After a finer size was too slow it is not tried again for so long. Milliseconds. */
const REFUSED_MS = 4000
/** A first picture that takes so long says nothing good of half the size either. */
const SLOW_MS = 300
/** Nor does a first one of half the size that takes so long: the next ones would be as late. Milliseconds. */
const HOPELESS_MS = 150
/** A movement whose fine pictures take longer begins coarsely: that something moves is seen sooner. Milliseconds. */
const LATE_MS = 120
/** Requests that follow each other faster are those of one movement. Milliseconds. */
const PAUSE_MS = 400

/**
 * How coarse the pictures are that a moving hand is shown: as fine as keeps up with it, by how long the last ones took. The
 * first of a movement is fine where that does not take too long: many movements are a single step.
 */
export class DraftPace {
  private level: Coarseness = 1
  private endedAt = -Infinity
  /** How long the last fine picture of a movement took, as far as it came. */
  private fineMs = 0
  /** Until when no finer size is tried. */
  private refusedUntil = -Infinity
  /** How coarse the picture before was: the first one of a size makes what the next ones find. */
  private last: Coarseness = 1

  /** How coarse the next picture is to be. @param now milliseconds. */
  next(isDraft: boolean, now: number): Coarseness {
    if (!isDraft) {
      this.endedAt = -Infinity
      return 1
    }
    return now - this.endedAt > PAUSE_MS && this.fineMs < LATE_MS ? 1 : this.level
  }

  /** Says that fine pictures take long, before one was made: a movement begins coarsely. */
  expectSlow(): void {
    if (this.fineMs >= LATE_MS) return
    this.fineMs = LATE_MS
    this.level = 4
  }

  /** How long a picture of a movement took. @param now when it was done, milliseconds. */
  tell(coarse: Coarseness, milliseconds: number, now: number): void {
    const isSettled = this.last === coarse && now - this.endedAt < PAUSE_MS
    const isFirst = coarse === 1 && !isSettled
    this.last = coarse
    this.endedAt = now
    if (coarse === 1) this.fineMs = milliseconds
    else if (4 * milliseconds < MOST_MS) this.fineMs = 0
    // What the movement before it came to is a better guess than a first picture.
    if (isFirst && this.level > 1) return
    if (milliseconds > MOST_MS && coarse === 1) this.level = milliseconds > SLOW_MS ? 4 : 2
    else if (milliseconds > (isSettled ? MOST_MS : HOPELESS_MS)) this.level = 4
    else if (milliseconds < EASE_MS[coarse] && isSettled && now > this.refusedUntil)
      this.level = coarse === 4 ? 2 : 1
    const isHopeless = coarse === 2 && milliseconds > HOPELESS_MS
    if (this.level > coarse && (isSettled || isHopeless)) this.refusedUntil = now + REFUSED_MS
  }
}
