/** Work that waits for its turn. */
interface Waiting {
  readonly rank: number
  readonly isBarrier: boolean
  readonly run: () => Promise<void>
}

/**
 * One piece of work at a time: of what waits, the lowest rank first, and of one rank what came first. A barrier waits for all that
 * came before it, and all that comes after waits for it.
 */
export class RankedQueue {
  private readonly waiting: Waiting[] = []
  private isBusy = false

  /**
   * @param turn lets the thread take what has come meanwhile, between two pieces of work.
   */
  constructor(private readonly turn: () => Promise<void>) {}

  /** Work on which what came before and what comes after relies. */
  addBarrier(run: () => Promise<void>): void {
    this.put({ rank: 0, isBarrier: true, run })
  }
  add(rank: number, run: () => Promise<void>): void {
    this.put({ rank, isBarrier: false, run })
  }

  private put(work: Waiting): void {
    this.waiting.push(work)
    if (!this.isBusy) void this.serve()
  }

  private next(): Waiting | null {
    const barrier = this.waiting.findIndex(({ isBarrier }) => isBarrier)
    if (barrier === 0) return this.waiting[0]
    const free = barrier < 0 ? this.waiting : this.waiting.slice(0, barrier)
    return free.reduce<Waiting | null>((best, own) => (best && best.rank <= own.rank ? best : own), null)
  }

  private async serve(): Promise<void> {
    this.isBusy = true
    for (;;) {
      const work = this.next()
      if (!work) break
      this.waiting.splice(this.waiting.indexOf(work), 1)
      // What fails has told so itself: the rest goes on.
      await work.run().catch(() => undefined)
      await this.turn()
    }
    this.isBusy = false
  }
}
