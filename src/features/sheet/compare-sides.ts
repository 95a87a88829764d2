import { paramDefaults } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { withMaskSeen, withOutline, type MaskSeen } from '@/core/sheet/mask-seen'
import { isSameShape } from '@/core/sheet/resize-sheet'
import { newLayer, passOf } from '@/core/sheet/new-layer'
import type { Mask, SheetNode } from '@/core/sheet/sheet-schema'
import { activePasses, activeSheet, activeShot, sheetsOf } from '@/data/active-shot'
import { beforeId, comparedPasses } from '@/data/before-passes'
import type { Project, ProjectSheet } from '@/data/project-schema'

/** What can stand on one side of a comparison, by a word: `now`, `without`, `alone`, `before`, `kept {id}`, `sheet {id}`, `pass {id}`. */
export interface Side {
  readonly word: string
  readonly label: string
}

/** What a view shows for a side. */
export interface ShownSide {
  readonly label: string
  /** A layer that is left out. */
  readonly without: string | null
  /** Another sheet than the one at work. */
  readonly sheet: ProjectSheet | null
}

/** All that can be compared now. */
export function sidesOf(project: Project, layer: SheetNode | undefined): Side[] {
  const sheet = activeSheet(project)
  const own = layer
    ? [
        { word: 'without', label: `Without ${layer.name}` },
        { word: 'alone', label: `${layer.name} alone` },
      ]
    : []
  const states = project.kept
    .filter((state) => isSameShape(state.sheet, sheet) && state.sheet.shotId === sheet.shotId)
    .map(({ id, name }) => ({ word: `kept ${id}`, label: `Kept: ${name}` }))
  const sheets = sheetsOf(project, activeShot(project).id)
    .filter((other) => other.id !== sheet.id && isSameShape(other, sheet))
    .map(({ id, name }) => ({ word: `sheet ${id}`, label: `Sheet: ${name}` }))
  const passes = activePasses(project)
    .filter(({ rendered }) => rendered)
    .map(({ id, name }) => ({ word: `pass ${id}`, label: `Pass: ${name}` }))
  const before = comparedPasses(project).length > 0 ? [{ word: 'before', label: 'Before one thing' }] : []
  return [{ word: 'now', label: 'As it is' }, ...before, ...own, ...states, ...sheets, ...passes]
}

/** Sheets that were made for a side, by what they were made of: the same one as long as that stays. */
const made = new WeakMap<ProjectSheet, Map<string, ProjectSheet>>()

/** As many are remembered of one sheet. */
const MOST_MADE = 40

function madeOf(sheet: ProjectSheet, word: string, make: () => ProjectSheet): ProjectSheet {
  const known = made.get(sheet) ?? new Map<string, ProjectSheet>()
  made.set(sheet, known)
  const own = known.get(word) ?? make()
  known.set(word, own)
  const [first] = known.keys()
  if (known.size > MOST_MADE) known.delete(first)
  return own
}

/** What a side shows; as it is, where there is no such thing any more. */
export function shownSide(project: Project, layer: SheetNode | undefined, word: string): ShownSide {
  const label = sidesOf(project, layer).find((side) => side.word === word)?.label
  const now: ShownSide = { label: 'As it is', without: null, sheet: null }
  if (label === undefined) return now
  const sheet = activeSheet(project)
  const [kind, id] = word.split(' ')
  switch (kind) {
    case 'without':
      return { ...now, label, without: layer?.id ?? null }
    case 'alone': {
      if (!layer) return now
      return { ...now, label, sheet: madeOf(sheet, word + layer.id, () => ({ ...sheet, roots: [layer.id] })) }
    }
    case 'before': {
      const ids = new Set(comparedPasses(project).map((pass) => pass.id))
      return { ...now, label, sheet: madeOf(sheet, [word, ...ids].join(' '), () => withBefore(sheet, ids)) }
    }
    case 'kept':
      return { ...now, label, sheet: project.kept.find((state) => state.id === id)?.sheet ?? null }
    case 'sheet':
      return { ...now, label, sheet: project.sheets.find((other) => other.id === id) ?? null }
    case 'pass': {
      const pass = project.passes.find((own) => own.id === id)
      if (!pass) return now
      const content = passOf(pass.id, paramDefaults(passKind(pass.kind).lookSchema))
      const alone = newLayer({ id: 'pass alone', name: pass.name, content })
      return {
        ...now,
        label,
        sheet: madeOf(sheet, word, () => ({ ...sheet, roots: [alone.id], nodes: { [alone.id]: alone } })),
      }
    }
    default:
      return now
  }
}

/** A sheet whose layers show what passes were. */
function withBefore(sheet: ProjectSheet, passIds: ReadonlySet<string>): ProjectSheet {
  const nodes = Object.entries(sheet.nodes).map(([id, node]) => {
    const { content } = node
    if (content.kind !== 'pass' || !passIds.has(content.passId)) return [id, node] as const
    return [id, { ...node, content: { ...content, passId: beforeId(content.passId) } }] as const
  })
  return { ...sheet, nodes: Object.fromEntries(nodes) }
}

/** The sheet with a line about what terms choose. @param word tells them from others. */
export const outlinedOf = (
  sheet: ProjectSheet,
  { terms, word }: { readonly terms: Mask['terms']; readonly word: string },
  upTo: number,
): ProjectSheet => madeOf(sheet, `about ${upTo} ${word}`, () => withOutline(sheet, terms, upTo))

/** The sheet with a layer's mask seen in front of it. */
export const seenMaskOf = (sheet: ProjectSheet, layerId: string, as: MaskSeen, upTo: number): ProjectSheet =>
  madeOf(sheet, `${as} ${upTo} ${layerId}`, () => withMaskSeen(sheet, layerId, as, upTo))
