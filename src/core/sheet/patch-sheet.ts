import { applyDocumentChanges, type DocumentChange } from '../document-changes'
import { nodeSchema, sheetSchema, type Sheet, type SheetNode } from './sheet-schema'

const frameSchema = sheetSchema.omit({ nodes: true })

/**
 * A sheet with changes made to it. What they touch is checked; layers that they leave alone stay the same objects, so that
 * whoever remembers something of them by identity goes on remembering it.
 * @throws {ZodError} @throws {InvalidValueError} where a change leads nowhere, or to what is no sheet.
 */
export function patchedSheet(sheet: Sheet, changes: readonly DocumentChange[]): Sheet {
  const isWhole = changes.some(({ path }) => path.length === 0 || (path.length === 1 && path[0] === 'nodes'))
  const raw = applyDocumentChanges(sheet, changes)
  if (isWhole) return sheetSchema.parse(raw)
  const { nodes, ...frame } = raw as Sheet
  const touched = new Set(changes.flatMap(({ path }) => (path[0] === 'nodes' ? [String(path[1])] : [])))
  const checked: [string, SheetNode][] = Object.entries(nodes).map(([id, node]) => [
    id,
    touched.has(id) ? nodeSchema.parse(node) : node,
  ])
  return { ...frameSchema.parse(frame), nodes: Object.fromEntries(checked) }
}
