import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'

/** What keeps the sources readable. */
const MOST_LINES = 400

describe('the sources', () => {
  it(`have no file of more than ${MOST_LINES} lines without a reason written in it`, () => {
    const files = execFileSync(
      'git',
      ['ls-files', 'src', 'cli', 'scripts', 'tests', 'demo', 'bench', 'kernel'],
      {
        encoding: 'utf8',
      },
    )
      .split('\n')
      .filter((file) => /\.(ts|tsx|mjs)$/.test(file) && !/-binary\.ts$/.test(file))
    expect(files.length).toBeGreaterThan(500)
    const long = files.filter((file) => {
      const text = readFileSync(file, 'utf8')
      return text.split('\n').length - 1 > MOST_LINES && !/^\/\/ One file: .{20,}\.$/m.test(text)
    })
    expect(long).toEqual([])
  })
})
