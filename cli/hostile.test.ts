import { spawnSync } from 'node:child_process'
import path from 'node:path'
import { describe, expect, it } from 'vitest'

/**
 * Spoiled files of every kind that comes from outside; those of models are spoiled beside their reader. `node scripts/hostile.mjs
 * --seconds 36000` goes on for hours.
 */
const ROUNDS = 1000
const KINDS = [
  ...['pictures', 'EXR', 'HDR', 'grading tables', 'fonts', 'films'],
  ...['OpenRaster', 'archives', 'documents', 'passes', 'recipes'],
]

describe('spoiled files', () => {
  it.each(KINDS)(
    'of %s are read soundly or refused by name, soon, in little memory, and reach for nothing',
    (kind) => {
      const args = ['--rounds', String(ROUNDS), '--seed', '1', '--only', kind]
      const { status, stdout } = spawnSync(process.execPath, [path.resolve('scripts/hostile.mjs'), ...args], {
        encoding: 'utf8',
      })
      expect(stdout.replace(/^THREE.*\n/gm, '').slice(-4000)).toMatch(/^hostile files: 0 findings$/m)
      expect(status).toBe(0)
      // Neither are all of them refused, nor none.
      const [, read, refused] = /: (\d+) read, (\d+) refused/.exec(stdout) ?? []
      expect(Number(read)).toBeGreaterThan(ROUNDS / 50)
      expect(Number(refused)).toBeGreaterThan(ROUNDS / 10)
      expect(Number(read) + Number(refused)).toBe(ROUNDS)
    },
    600_000,
  )
})
