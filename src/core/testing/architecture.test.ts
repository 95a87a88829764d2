import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import path from 'node:path'
import { describe, expect, it } from 'vitest'

/** The drawing of docs/ARCHITECTURE.md, held to the sources. */
const text = readFileSync('docs/ARCHITECTURE.md', 'utf8')

/** Who may read whom, as it is drawn: each column reads those to its right. */
function drawn(): Map<string, Set<string>> {
  const line = /^ app ──▶.*$/m.exec(text)?.[0] ?? ''
  // Two drawings stand side by side.
  const chains = line
    .split(/\s{4,}/)
    .map((chain) => chain.split('──▶').map((own) => own.split(',').map((name) => name.trim())))
  const may = new Map<string, Set<string>>()
  for (const chain of chains)
    chain.forEach((column, i) => {
      for (const name of column)
        may.set(name, new Set([...(may.get(name) ?? []), ...chain.slice(i + 1).flat()]))
    })
  return may
}

const sources = execFileSync('git', ['ls-files', 'src', 'cli', 'demo', 'bench'], { encoding: 'utf8' })
  .split('\n')
  .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$|\/testing\//.test(file))
/** The layer that a file is of. */
const layerOf = (file: string): string => (file.startsWith('src/') ? file.split('/')[1] : file.split('/')[0])

describe('the architecture', () => {
  it('is as its arrows show', () => {
    const may = drawn()
    expect([...may.keys()].sort()).toEqual(
      ['app', 'bench', 'cli', 'core', 'data', 'demo', 'engine', 'features', 'state', 'ui'].sort(),
    )
    const wrong: string[] = []
    const used = new Set<string>()
    for (const file of sources) {
      const own = layerOf(file)
      if (!may.has(own)) continue
      for (const [, to] of readFileSync(file, 'utf8').matchAll(/from '@\/([a-z]+)\//g)) {
        if (to === own) continue
        used.add(`${own} ${to}`)
        // The steps' pieces read what is open, as they stand in one column.
        if (own === 'ui' && to === 'state') continue
        if (!may.get(own)?.has(to)) wrong.push(`${file} reads ${to}`)
      }
    }
    expect(wrong).toEqual([])
    // Arrows that are drawn are gone along.
    for (const pair of [
      'app features',
      'features ui',
      'features state',
      'state data',
      'state engine',
      'data core',
      'engine core',
      'cli data',
    ])
      expect(used).toContain(pair)
  })
  it('lists every folder there is, and none that is not', () => {
    const listed = [...text.matchAll(/^\| (`[^|]+`)\s*\|/gm)].flatMap(([, cell]) =>
      [...cell.matchAll(/`([^`]+)`/g)].map(([, folder]) => folder),
    )
    expect(listed.length).toBeGreaterThan(25)
    for (const folder of listed) expect([folder, existsSync(folder)]).toEqual([folder, true])
    const folders = (at: string) =>
      readdirSync(at, { withFileTypes: true })
        .filter((entry) => entry.isDirectory() && entry.name !== 'testing')
        .map(({ name }) => path.posix.join(at, name))
    const missing = [...folders('src').filter((own) => own !== 'src/core'), ...folders('src/core')].filter(
      (folder) => !listed.includes(folder),
    )
    expect(missing).toEqual([])
  })
})
