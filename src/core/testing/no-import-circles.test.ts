import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { expect, it } from 'vitest'
import { circles, importGraph, noImportCircles } from '../../../scripts/no-import-circles.mjs'

/** Files in a folder of their own; paths below `src`. */
function folderOf(files: Readonly<Record<string, string>>): string {
  const root = mkdtempSync(path.join(tmpdir(), 'relief-circles-'))
  for (const [name, text] of Object.entries(files)) {
    const full = path.join(root, 'src', name)
    mkdirSync(path.dirname(full), { recursive: true })
    writeFileSync(full, text)
  }
  return root
}

const FILES = {
  'a.ts': "import type { B } from '@/deep/b'\nexport type A = B",
  'deep/b.ts': "export { type C } from './c'\nexport type B = 1",
  'deep/c.tsx': "import '../styles.css'\nimport {\n  type A,\n} from '../a'\nexport type C = A",
  'alone.ts': "import type { A } from './a'\nimport fs from 'node:fs'\nexport type D = A",
}

it('finds files that need each other, by types and by any way round', () => {
  const root = path.join(folderOf(FILES), 'src')
  const circle = circles(importGraph(root))
  const of = (name: string) => circle.get(path.join(root, name))
  expect(of('a.ts')).toBe(of('deep/b.ts'))
  expect(of('a.ts')).toBe(of('deep/c.tsx'))
  expect(of('alone.ts')).not.toBe(of('a.ts'))
})

it('reports the import that closes a circle, and no other', () => {
  const cwd = folderOf(FILES)
  const reported = (name: keyof typeof FILES) => {
    const found: string[] = []
    const report = ({ data }: { readonly data: { readonly spec: string } }) => void found.push(data.spec)
    const rule = noImportCircles.create({ cwd, filename: path.join(cwd, 'src', name), report })
    for (const [, value] of FILES[name].matchAll(/from '([^']+)'/g))
      rule.ImportDeclaration({ source: { value } })
    return found
  }
  expect(reported('a.ts')).toEqual(['@/deep/b'])
  expect(reported('deep/c.tsx')).toEqual(['../a'])
  expect(reported('alone.ts')).toEqual([])
})
