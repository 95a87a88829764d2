import { expect, it } from 'vitest'
import { documentChanges } from '../document-changes'
import { patchedSheet } from './patch-sheet'
import { randomEdit, randomSheet } from './testing/random-sheet'
import { sheetSchema } from './sheet-schema'

it('follows any edit, and keeps the layers that it leaves alone as they are', () => {
  for (let seed = 1; seed <= 40; seed++) {
    const sheet = randomSheet(seed)
    const edited = randomEdit(sheet, seed)
    // As a worker gets it: a copy of its own.
    const held = structuredClone(sheet)
    const changes = structuredClone(documentChanges(sheet, edited))
    const now = patchedSheet(held, changes)
    expect(now).toEqual(edited)
    for (const [id, node] of Object.entries(edited.nodes))
      if (node === sheet.nodes[id]) expect(now.nodes[id]).toBe(held.nodes[id])
  }
})

it('takes whole layers in and out, and nodes as a whole', () => {
  const sheet = randomSheet(2)
  const [first] = sheet.roots
  const { [first]: gone, ...nodes } = sheet.nodes
  const fewer = sheetSchema.parse({ ...sheet, roots: sheet.roots.slice(1), nodes })
  expect(patchedSheet(sheet, documentChanges(sheet, fewer))).toEqual(fewer)
  expect(patchedSheet(fewer, documentChanges(fewer, sheet))).toEqual(sheet)
  expect(patchedSheet(sheet, [{ path: ['nodes'], value: nodes }]).nodes[first]).toBeUndefined()
  expect(gone.id).toBe(first)
})

it('refuses what makes no sheet of it', () => {
  const sheet = randomSheet(2)
  const [first] = sheet.roots
  expect(() => patchedSheet(sheet, [{ path: ['nodes', first, 'opacity'], value: 3 }])).toThrow(/opacity/)
  expect(() => patchedSheet(sheet, [{ path: ['width'], gone: true }])).toThrow(/width/)
  expect(() => patchedSheet(sheet, [{ path: ['nodes', 'x', 'name', 'y'], value: 3 }])).toThrow(/nodes.x/)
  expect(() => patchedSheet(sheet, [{ path: [], value: 'no sheet' }])).toThrow()
})

it('follows edits of sheets that it shows, and keeps those that it leaves alone as they are', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const [one, other] = [randomSheet(seed), randomSheet(seed + 50)]
    const sheet = { ...randomSheet(seed + 90), shown: { one, other: { ...other, shown: { one } } } }
    const edited = { ...sheet, shown: { ...sheet.shown, one: randomEdit(one, seed) } }
    const held = structuredClone(sheet)
    const now = patchedSheet(held, structuredClone(documentChanges(sheet, edited)))
    expect(now).toEqual(edited)
    expect(now.shown?.other).toBe(held.shown.other)
    for (const [id, node] of Object.entries(edited.shown.one.nodes))
      if (node === one.nodes[id]) expect(now.shown?.one.nodes[id]).toBe(held.shown.one.nodes[id])
    // One comes, one goes.
    const fewer = { ...sheet, shown: { other: sheet.shown.other } }
    expect(patchedSheet(held, structuredClone(documentChanges(sheet, fewer)))).toEqual(fewer)
    expect(patchedSheet(structuredClone(fewer), structuredClone(documentChanges(fewer, sheet)))).toEqual(
      sheet,
    )
  }
})

it('refuses what makes no sheet of one that it shows', () => {
  const one = randomSheet(3)
  const sheet = { ...randomSheet(4), shown: { one } }
  const [first] = one.roots
  expect(() =>
    patchedSheet(sheet, [{ path: ['shown', 'one', 'nodes', first, 'opacity'], value: -1 }]),
  ).toThrow(/opacity/)
  expect(() => patchedSheet(sheet, [{ path: ['shown', 'one'], value: { id: 'x' } }])).toThrow()
})
