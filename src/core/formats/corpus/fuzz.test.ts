import { describe, expect, it } from 'vitest'
import { fuzzOnce, spoiled } from './fuzz'
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
  it('are spoiled in the same way by the same seed, and in different ways by different ones', () => {
    const bytesOf = (seed: number) => {
      const { file, files } = spoiled(HARD_STL, seed)
      return `${file.name} ${[...files.values()].join(' ')}`
    }
    expect(bytesOf(7)).toBe(bytesOf(7))
    expect(new Set(Array.from({ length: 50 }, (_, seed) => bytesOf(seed))).size).toBeGreaterThan(45)
    // What is spoiled is another file than it was, but for the rare times a change changes nothing.
    const changed = Array.from({ length: 50 }, (_, seed) => spoiled(HARD_STL, seed)).filter(
      ({ file, files }) => files.get(file.entry)?.join() !== file.files.get(file.entry)?.join(),
    )
    expect(changed.length).toBeGreaterThan(40)
  })
})
