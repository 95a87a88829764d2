import type { Draft } from 'immer'
import { paramDefaults, type ParamValues } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { roleNow } from '@/core/scene/part-role'
import { newLayer, passOf } from '@/core/sheet/new-layer'
import type { Sheet, SheetNode } from '@/core/sheet/sheet-schema'
import { insertNode } from '@/core/sheet/sheet-tree'
import { newId, newPass } from '@/data/new-project'
import type { Project, ProjectPass } from '@/data/project-schema'
import { activeTurn } from './turn-actions'
import { changeProject, useProjectStore } from './project-store'
import { setBench, useViewStore } from './view-store'

/** What falls on the ground and can be laid into a sheet in one press. */
export const GROUND_LAYERS = ['shadow', 'reflection'] as const
export type GroundLayer = (typeof GROUND_LAYERS)[number]

export const groundLayerLabels: Readonly<Record<GroundLayer, string>> = {
  shadow: 'Shadow on the ground',
  reflection: 'Reflection on the ground',
}

const NAMES: Readonly<Record<GroundLayer, string>> = {
  shadow: 'Ground shadow',
  reflection: 'Ground reflection',
}

/**
 * Lays what falls on the ground into the sheet of the turntable at work, in front of its hindmost pass, a reflection over the
 * shadow; its pass comes with it where the shot has none. One undo step.
 */
export function addGroundLayer(kind: GroundLayer): 'added' | 'there' | 'no ground' {
  const { project } = useProjectStore.getState()
  const turn = project && activeTurn(project, useViewStore.getState().turnId)
  const sheet = project?.sheets.find(({ id }) => id === turn?.sheetId)
  if (!project || !sheet) return 'no ground'
  const isGround = project.models.some(({ parts }) =>
    parts.some((part) => roleNow(part) === 'ground' && part.polygons > 0),
  )
  if (!isGround) return 'no ground'
  const own = passOfShot(project, sheet.shotId, kind)
  const like = kind === 'reflection' ? shownAs(project, sheet) : NOTHING_LIKE
  const made = newPass(sheet.shotId, kind)
  const pass = own ?? { ...made, params: { ...made.params, ...like.params } }
  const shown = Object.values(sheet.nodes).find((node) => shows(node, pass.id))
  if (shown) {
    setBench({ laneId: shown.id })
    return 'there'
  }
  const { layer, lookSchema } = passKind(kind)
  const content = passOf(pass.id, { ...paramDefaults(lookSchema), ...like.look })
  const node = newLayer({ id: newId(), name: NAMES[kind], content, ...layer })
  const shadow = passOfShot(project, sheet.shotId, 'shadow')
  const isBelow = (id: string) => {
    const { content } = sheet.nodes[id]
    return content.kind === 'pass' && (kind !== 'reflection' || content.passId === shadow?.id)
  }
  const hindmost = sheet.roots.findIndex((id) => sheet.nodes[id].content.kind === 'pass')
  const below = sheet.roots.findIndex(isBelow)
  changeProject(groundLayerLabels[kind].toLowerCase(), (draft) => {
    const at = draft.sheets.find(({ id }) => id === sheet.id)
    if (!at) return
    if (!own) draft.passes.push(pass as Draft<ProjectPass>)
    const index = below < 0 ? hindmost : below
    insertNode(at, node, { parent: null, index: index < 0 ? Infinity : index + 1 })
  })
  setBench({ laneId: node.id })
  return 'added'
}

const shows = ({ content }: SheetNode, passId: string): boolean =>
  content.kind === 'pass' && content.passId === passId

const passOfShot = ({ passes }: Project, shotId: string, kind: string): ProjectPass | undefined =>
  passes.find((pass) => pass.shotId === shotId && pass.kind === kind)

interface Likeness {
  readonly params: ParamValues
  readonly look: ParamValues
}
const NOTHING_LIKE: Likeness = { params: {}, look: {} }

/** How a reflection is shown to go with a sheet: in clay where the sheet shows clay and nothing lit. */
function shownAs(project: Project, sheet: Sheet): Likeness {
  const look = (kind: string): ParamValues | null => {
    for (const { content } of Object.values(sheet.nodes)) {
      if (content.kind !== 'pass') continue
      if (project.passes.find(({ id }) => id === content.passId)?.kind === kind) return content.look
    }
    return null
  }
  const clay = look('clay')
  if (!clay || look('lit')) return NOTHING_LIKE
  return { params: { shows: 'clay' }, look: { clay: clay.colour, exposure: clay.exposure } }
}
