import { runClock } from '../cli/farm/farm-clock'
import { LEASE_MS } from '../cli/farm/task-queue'

/** How a job of 2,000 frames behaves on 100 machines: by how many shares it is dealt out, and by what goes wrong. */
const FRAMES = 2000
const MACHINES = 100
const FRAME_SECONDS = 20
const SET_UP_SECONDS = 4
const SEEDS = 200

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]
const worst = (values: readonly number[]) =>
  [...values].sort((a, b) => a - b)[Math.floor(0.95 * values.length)]

const CASES = [
  { name: 'nothing goes wrong', slowShare: 0, slowFactor: 1, lossSeconds: Infinity },
  { name: 'five machines four times slower', slowShare: 0.05, slowFactor: 4, lossSeconds: Infinity },
  { name: 'each machine lost once in two hours', slowShare: 0, slowFactor: 1, lossSeconds: 7200 },
  { name: 'both, lost once in half an hour', slowShare: 0.05, slowFactor: 4, lossSeconds: 1800 },
]

export function main(): Promise<void> {
  console.log(
    '| | shares | minutes | at the 95th of a hundred | of what is possible | set up | handed out again |',
  )
  console.log('| --- | ---: | ---: | ---: | ---: | ---: | ---: |')
  for (const { name, ...wrong } of CASES)
    for (const shares of [100, 400, 1000, 2000]) {
      const runs = Array.from({ length: SEEDS }, (_, seed) =>
        runClock({
          frames: FRAMES,
          shares,
          machines: MACHINES,
          frameSeconds: FRAME_SECONDS,
          setUpSeconds: SET_UP_SECONDS,
          ...wrong,
          awaySeconds: 600,
          leaseSeconds: LEASE_MS / 1000,
          seed: seed + 1,
        }),
      )
      const seconds = runs.map((run) => run.seconds)
      const share = runs.map((run) => run.idealSeconds / run.seconds)
      const setUp = runs.map((run) => run.setUpSeconds / (MACHINES * run.seconds))
      console.log(
        `| ${name} | ${shares} | ${(median(seconds) / 60).toFixed(1)} | ${(worst(seconds) / 60).toFixed(1)} | ${(100 * median(share)).toFixed(0)} % | ${(100 * median(setUp)).toFixed(0)} % | ${median(runs.map((run) => run.again))} |`,
      )
    }
  return Promise.resolve()
}
