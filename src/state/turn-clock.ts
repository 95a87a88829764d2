import type { TurnPose } from '@/data/turn-frames'

/** Poses that are counted: the scene may become dearer as it turns. */
const LAST = 24

/** How long what is left of a turntable will take, by what went before. A pose costs what its passes do. */
export class TurnClock {
  private readonly told: { readonly weight: number; readonly seconds: number }[] = []

  /** @param seconds that a pose took. */
  tell(pose: Pick<TurnPose, 'passIds'>, seconds: number): void {
    this.told.push({ weight: weightOf(pose), seconds })
    if (this.told.length > LAST) this.told.shift()
  }

  /** Null before two poses were told: the first has to wait for what comes but once. */
  secondsLeft(left: readonly Pick<TurnPose, 'passIds'>[]): number | null {
    const counted = this.told.length > 2 ? this.told.slice(1) : this.told
    if (this.told.length < 2) return null
    const weight = counted.reduce((sum, one) => sum + one.weight, 0)
    const seconds = counted.reduce((sum, one) => sum + one.seconds, 0)
    return (seconds / weight) * left.reduce((sum, pose) => sum + weightOf(pose), 0)
  }
}

/** What every pose takes, in passes. */
const BASE = 1
const weightOf = ({ passIds }: Pick<TurnPose, 'passIds'>): number => BASE + passIds.length
