import { seededRandom } from '@/core/math/sampling'

/** A farm that is played through on a clock instead of being waited for. Times in seconds. */
export interface ClockedFarm {
  readonly frames: number
  readonly shares: number
  readonly machines: number
  /** That a frame takes on a usual machine. */
  readonly frameSeconds: number
  /** That a share takes before its first frame: starting, reading the scene. */
  readonly setUpSeconds: number
  /** Share of the machines that are slower, and how many times. */
  readonly slowShare: number
  readonly slowFactor: number
  /** Mean time after which a machine is lost; Infinity: never. */
  readonly lossSeconds: number
  /** After which a lost machine is back. */
  readonly awaySeconds: number
  /** After which a share of a lost machine is handed out again. */
  readonly leaseSeconds: number
  readonly seed: number
}

export interface ClockedRun {
  /** From the first share to the last. */
  readonly seconds: number
  /** What it would take if no machine ever waited, was lost or had anything to set up. */
  readonly idealSeconds: number
  /** Of machines, on what others did again. */
  readonly lostSeconds: number
  /** Of machines, on starting and reading scenes. */
  readonly setUpSeconds: number
  /** How often a share was handed out again. */
  readonly again: number
}

interface Share {
  readonly from: number
  /** Frames that are there. */
  done: number
  readonly frames: number
}

/** What happens next, in order of time. */
interface Happening {
  readonly at: number
  readonly act: () => void
}

/**
 * Plays a job through: machines take the next share of the queue as they are free; a lost machine's share is handed out again
 * after its lease, and goes on from the frames that are there.
 */
export function runClock(farm: ClockedFarm): ClockedRun {
  const { frames, machines, frameSeconds, setUpSeconds, slowShare, slowFactor, lossSeconds } = farm
  const random = seededRandom(farm.seed)
  const shares = Math.min(farm.shares, frames)
  const queue = Array.from({ length: shares }, (_, i): Share => {
    const from = Math.floor((i * frames) / shares)
    return { from, done: 0, frames: Math.floor(((i + 1) * frames) / shares) - from }
  })
  const slow = Math.round(slowShare * machines)
  const speeds = Array.from({ length: machines }, (_, i) => (i < slow ? slowFactor : 1))
  const agenda = new Agenda()
  const idle: number[] = []
  const tally = { lost: 0, setUp: 0, again: 0, open: shares, end: 0 }

  const give = (machine: number, now: number): void => {
    const share = queue.shift()
    if (!share) {
      idle.push(machine)
      return
    }
    const each = frameSeconds * speeds[machine]
    const needed = setUpSeconds * speeds[machine] + (share.frames - share.done) * each
    const lostAt = lossSeconds === Infinity ? Infinity : -lossSeconds * Math.log(1 - random())
    if (lostAt >= needed) {
      tally.setUp += setUpSeconds * speeds[machine]
      agenda.add(now + needed, () => {
        share.done = share.frames
        tally.open--
        tally.end = now + needed
        give(machine, now + needed)
      })
      return
    }
    const more = Math.max(0, Math.floor((lostAt - setUpSeconds * speeds[machine]) / each))
    tally.setUp += Math.min(lostAt, setUpSeconds * speeds[machine])
    tally.lost += Math.max(0, lostAt - setUpSeconds * speeds[machine] - more * each)
    agenda.add(now + lostAt + farm.leaseSeconds, () => {
      share.done += more
      tally.again++
      queue.push(share)
      const free = idle.pop()
      if (free !== undefined) give(free, now + lostAt + farm.leaseSeconds)
    })
    agenda.add(now + lostAt + farm.awaySeconds, () => give(machine, now + lostAt + farm.awaySeconds))
  }
  for (let machine = 0; machine < machines; machine++) give(machine, 0)
  while (tally.open > 0) agenda.next()
  const rate = speeds.reduce((sum, speed) => sum + 1 / (frameSeconds * speed), 0)
  return {
    seconds: tally.end,
    idealSeconds: frames / rate,
    lostSeconds: tally.lost,
    setUpSeconds: tally.setUp,
    again: tally.again,
  }
}

/** A heap of what is still to happen. */
class Agenda {
  private readonly heap: Happening[] = []

  add(at: number, act: () => void): void {
    const { heap } = this
    let place = heap.push({ at, act }) - 1
    while (place > 0) {
      const above = (place - 1) >> 1
      if (heap[above].at <= heap[place].at) break
      ;[heap[above], heap[place]] = [heap[place], heap[above]]
      place = above
    }
  }

  next(): void {
    const { heap } = this
    const first = heap[0]
    const last = heap.pop()
    if (!last || !first) throw new Error('nothing is left to happen')
    if (heap.length > 0) {
      heap[0] = last
      for (let place = 0; ;) {
        const left = 2 * place + 1
        if (left >= heap.length) break
        const least = left + 1 < heap.length && heap[left + 1].at < heap[left].at ? left + 1 : left
        if (heap[place].at <= heap[least].at) break
        ;[heap[least], heap[place]] = [heap[place], heap[least]]
        place = least
      }
    }
    first.act()
  }
}
