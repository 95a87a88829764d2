import { describe, expect, it } from 'vitest'
import { fuzzOnce } from './fuzz'
import { HARD_GLTF } from './hard-gltf'
import { HARD_OBJ } from './hard-obj'
import { HARD_PLY } from './hard-ply'
import { HARD_STL } from './hard-stl'

/** Spoiled files per reader; `node scripts/fuzz.mjs` goes on for as long as one likes. */
const ROUNDS = 1500

describe('spoiled files', () => {
  it.each([
    ['OBJ', HARD_OBJ],
    ['glTF', HARD_GLTF],
    ['PLY', HARD_PLY],
    ['STL', HARD_STL],
  ] as const)(
    'of %s are read soundly or refused by name',
    async (_format, list) => {
      for (let seed = 1; seed <= ROUNDS; seed++) {
        const finding = await fuzzOnce(list, seed)
        if (finding) expect.fail(`seed ${seed}, from "${finding.from}": ${String(finding.error)}`)
      }
    },
    120_000,
  )
  it('are spoiled in the same way by the same seed, and in different ways by different ones', async () => {
    // A list whose only file is refused whatever happens to it shows what was read.
    const seen = new Set<string>()
    for (const seed of [1, 1, 2, 3]) {
      const bytes = new TextEncoder().encode('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n')
      const file = { name: 'a', entry: 'a.unknown', files: new Map([['a.unknown', bytes]]), want: 1 }
      const finding = await fuzzOnce([{ ...file, entry: 'a.unknown' }], seed)
      seen.add(String(finding?.files.get('a.unknown')))
    }
    expect(seen.size).toBeLessThanOrEqual(3)
  })
})
