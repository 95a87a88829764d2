import { applyDocumentChanges, type DocumentChange } from '../document-changes'
import {
  liesSchema,
  nodeSchema,
  seenBySchema,
  sheetSchema,
  treeSchema,
  trimSchema,
  type Sheet,
  type SheetNode,
} from './sheet-schema'

const frameSchema = treeSchema.omit({ nodes: true }).extend({
  lies: liesSchema.optional(),
  trim: trimSchema.optional(),
  seenBy: seenBySchema.optional(),
})

/**
 * A sheet with changes made to it. What they touch is checked; layers and shown sheets that they leave alone stay the same
 * objects, so that whoever remembers something of them by identity goes on remembering it.
 * @throws {ZodError} @throws {InvalidValueError} where a change leads nowhere, or to what is no sheet.
 */
export function patchedSheet(sheet: Sheet, changes: readonly DocumentChange[]): Sheet {
  const isWhole = changes.some(({ path }) => path.length === 0 || (path.length === 1 && path[0] === 'nodes'))
  const raw = applyDocumentChanges(sheet, changes)
  if (isWhole) return sheetSchema.parse(raw)
  const { nodes, shown, ...frame } = raw as Sheet
  const touched = new Set(changes.flatMap(({ path }) => (path[0] === 'nodes' ? [String(path[1])] : [])))
  const checked: [string, SheetNode][] = Object.entries(nodes).map(([id, node]) => [
    id,
    touched.has(id) ? nodeSchema.parse(node) : node,
  ])
  return {
    ...frameSchema.parse(frame),
    nodes: Object.fromEntries(checked),
    ...(shown && { shown: patchedShown(sheet.shown ?? {}, shown, changes) }),
  }
}

/** @param after the sheets as the changes leave them, unchecked. */
function patchedShown(
  before: Readonly<Record<string, Sheet>>,
  after: Readonly<Record<string, Sheet>>,
  changes: readonly DocumentChange[],
): Record<string, Sheet> {
  const own = changes.filter(({ path }) => path[0] === 'shown')
  const isNew = own.some(({ path }) => path.length === 1)
  return Object.fromEntries(
    Object.entries(after).map(([id, sheet]): [string, Sheet] => {
      const within = own.filter(({ path }) => path[1] === id)
      if (!isNew && within.length === 0) return [id, sheet]
      if (isNew || !(id in before) || within.some(({ path }) => path.length === 2))
        return [id, sheetSchema.parse(sheet)]
      return [
        id,
        patchedSheet(
          before[id],
          within.map((change) => ({ ...change, path: change.path.slice(2) })),
        ),
      ]
    }),
  )
}
