import fs from 'node:fs'
import net from 'node:net'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'
import { seededRandom } from '@/core/math/sampling'
import { HOSTILE_READERS } from './hostile-readers'
import { spoilFile } from './spoil'

/** The longest that a spoiled file may take, and the most that it may make of memory. Milliseconds, bytes. */
const [MOST_MS, MOST_BYTES] = [5000, 500 * 2 ** 20]

/** In their order. */
export const HOSTILE_KINDS = HOSTILE_READERS.map(({ kind }) => kind)

interface HostileAsked {
  readonly kind: string
  /** How many files, from which on, and until when. Milliseconds since 1970. */
  readonly rounds: number
  readonly first: number
  readonly end: number
  readonly seed: number
}

/** What was reached for while a file was read: nothing should be. */
function watchOutside(): { readonly reached: string[]; on: boolean } {
  const watch = { reached: [] as string[], on: false }
  const guard = <T extends object>(holder: T, names: readonly (keyof T & string)[]) => {
    for (const name of names) {
      const own = holder[name] as (...args: unknown[]) => unknown
      holder[name] = function (this: unknown, ...args: unknown[]) {
        if (watch.on) watch.reached.push(`${name} ${String(args[0])}`)
        return own.apply(this, args)
      } as T[typeof name]
    }
  }
  guard(fs, [
    'openSync',
    'readFileSync',
    'writeFileSync',
    'createReadStream',
    'createWriteStream',
    'open',
    'readFile',
    'writeFile',
  ])
  guard(fs.promises, ['open', 'readFile', 'writeFile'])
  guard(net.Socket.prototype, ['connect'])
  guard(globalThis, ['fetch'])
  return watch
}

/** Reads spoiled files of one kind, and tells its parent of each before it begins, and how many were findings. */
export async function readHostile({ kind, rounds, first, end, seed }: HostileAsked): Promise<void> {
  const reader = HOSTILE_READERS.find((own) => own.kind === kind)
  if (!reader) throw new Error(`there are ${HOSTILE_KINDS.join(', ')}`)
  const { sound, read } = reader
  const watch = watchOutside()
  const folder = path.resolve('.build/hostile-findings')
  const files = await sound()
  // They are sound: what is spoiled of them is worth something. Readers also bring in what they need.
  for (const { bytes, name } of files) await read(bytes, name, true)
  const tally = { read: 0, refused: 0, findings: 0, slowest: 0, most: 0 }
  let round = first
  for (; round < rounds && Date.now() < end; round++) {
    process.send?.({ round })
    const random = seededRandom(seed + round)
    // The first numbers of near seeds are alike.
    for (let i = 0; i < 8; i++) random()
    const pick = () => files[Math.floor(random() * files.length)]
    const { name, bytes } = pick()
    const spoiled = spoilFile(bytes, random, pick().bytes)
    if (round % 50 === 0) globalThis.gc?.()
    const before = process.resourceUsage().maxRSS
    const began = performance.now()
    let problem: string | null = null
    watch.on = true
    try {
      await read(spoiled, name, false)
      tally.read++
    } catch (error) {
      tally.refused++
      // Named is the file, or what of it.
      if (!(error instanceof UnreadableFileError))
        problem = error instanceof Error ? (error.stack ?? error.message) : String(error)
    }
    watch.on = false
    const ms = performance.now() - began
    const grown = 1024 * (process.resourceUsage().maxRSS - before)
    tally.slowest = Math.max(tally.slowest, ms)
    tally.most = Math.max(tally.most, grown)
    if (ms > MOST_MS) problem ??= `it took ${(ms / 1000).toFixed(1)} s`
    if (grown > MOST_BYTES) problem ??= `it took ${Math.round(grown / 2 ** 20)} MB`
    if (watch.reached.length > 0) problem ??= `it reached for ${watch.reached.join(', ')}`
    watch.reached.length = 0
    if (problem === null) continue
    tally.findings++
    fs.mkdirSync(folder, { recursive: true })
    const file = `${kind.replace(/\W+/g, '-')}-${seed + round}-${path.basename(name)}`
    fs.writeFileSync(path.join(folder, file), spoiled)
    process.stdout.write(`${kind}, seed ${seed + round}, from ${name}: ${problem}\n`)
  }
  const { findings, slowest, most } = tally
  process.stdout.write(
    `${kind}: ${tally.read} read, ${tally.refused} refused, slowest ${slowest.toFixed(0)} ms, most ${Math.round(most / 2 ** 20)} MB\n`,
  )
  process.send?.({ done: findings })
  process.disconnect?.()
}
