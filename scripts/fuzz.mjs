// Spoils the hard files of the corpus and reads them, for as long as one likes: `node scripts/fuzz.mjs [SECONDS] [SEED]`.
// What is neither read soundly nor refused by name is written to `fuzz-findings/`, to be made a case of the corpus.
import { mkdirSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { bundle } from './bundle.mjs'
import { ensureInstalled, root } from './ensure-installed.mjs'

ensureInstalled()
const { CORPUS, fuzzOnce } = await import(await bundle('src/core/formats/corpus/all.ts', 'fuzz'))
const seconds = Number(process.argv[2] ?? 60)
const first = Number(process.argv[3] ?? Date.now() % 1e9)
const folder = path.join(root, 'fuzz-findings')
const end = Date.now() + 1000 * seconds
let read = 0
let found = 0
let slowest = { ms: 0, what: '' }
for (let seed = first; Date.now() < end; seed++) {
  for (const [format, files] of CORPUS) {
    if (process.env.FUZZ_TRACE) console.log(format, seed)
    const started = performance.now()
    const finding = await fuzzOnce(files, seed)
    const ms = performance.now() - started
    if (ms > slowest.ms) slowest = { ms, what: `${format} ${seed}` }
    read++
    if (!finding) continue
    found++
    const place = path.join(folder, `${format}-${seed}`)
    for (const [name, bytes] of finding.files) {
      mkdirSync(path.dirname(path.join(place, name)), { recursive: true })
      writeFileSync(path.join(place, name), bytes)
    }
    console.log(`${format}, seed ${seed}, from "${finding.from}":`, finding.error)
  }
}
console.log(
  `${read} spoiled files from seed ${first} on, ${found} findings; slowest ${slowest.ms.toFixed(0)} ms (${slowest.what})`,
)
process.exitCode = found > 0 ? 1 : 0
