import { activePasses, activeSheet } from '@/data/active-shot'
import { paramDefaults, type ParamValues } from '@/core/params'
import type { PassKindName } from '@/core/passes/registry'
import { passKind } from '@/core/passes/registry'
import type { BlendMode } from '@/core/sheet/blend-modes'
import { gradientFill, newLayer, passOf } from '@/core/sheet/new-layer'
import { insertNode } from '@/core/sheet/sheet-tree'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { newId } from '@/data/new-project'
import type { Project } from '@/data/project-schema'
import { changeProject } from '@/state/project-store'
import { setBench } from '@/state/view-store'

interface StackLine {
  readonly kind: PassKindName
  readonly name: string
  readonly mode: BlendMode
  readonly opacity: number
  readonly visible: boolean
  readonly look: ParamValues
}

/** A base at the back, colour and shade multiplied over it, edges in front: where most pictures begin. */
const STACK: readonly StackLine[] = [
  { kind: 'surroundings', name: 'Surroundings', mode: 'normal', opacity: 1, visible: false, look: {} },
  { kind: 'clay', name: 'Clay', mode: 'normal', opacity: 1, visible: true, look: {} },
  { kind: 'lit', name: 'Lit', mode: 'normal', opacity: 1, visible: true, look: {} },
  { kind: 'stepped', name: 'Stepped light', mode: 'normal', opacity: 1, visible: false, look: {} },
  { kind: 'flat', name: 'Flat', mode: 'multiply', opacity: 0.85, visible: false, look: {} },
  {
    kind: 'id',
    name: 'Flat colour',
    mode: 'multiply',
    opacity: 0.85,
    visible: true,
    look: { by: 'material', colours: 'model' },
  },
  {
    kind: 'occlusion',
    name: 'Occlusion, warm',
    mode: 'multiply',
    opacity: 0.65,
    visible: true,
    look: { tint: '#5a2a1c' },
  },
  { kind: 'cavity', name: 'Cavity', mode: 'soft-light', opacity: 0.55, visible: true, look: {} },
  {
    kind: 'contour',
    name: 'Contour',
    mode: 'multiply',
    opacity: 0.9,
    visible: true,
    look: { colour: '#2b1d17' },
  },
  { kind: 'shadow', name: 'Shadow', mode: 'multiply', opacity: 1, visible: false, look: {} },
  { kind: 'reflection', name: 'Reflection', mode: 'normal', opacity: 1, visible: false, look: {} },
  { kind: 'light', name: 'Light', mode: 'screen', opacity: 0.5, visible: false, look: {} },
  {
    kind: 'facing',
    name: 'Rims',
    mode: 'screen',
    opacity: 0.4,
    visible: false,
    look: { clear: true, rim: '#ffe2b8' },
  },
  { kind: 'thickness', name: 'Shining through', mode: 'screen', opacity: 0.5, visible: false, look: {} },
  { kind: 'depth', name: 'Depth', mode: 'screen', opacity: 0.4, visible: false, look: {} },
  {
    kind: 'normal',
    name: 'Normal tint',
    mode: 'overlay',
    opacity: 0.4,
    visible: false,
    look: { show: 'saturation' },
  },
  { kind: 'wireframe', name: 'Wireframe', mode: 'multiply', opacity: 0.5, visible: false, look: {} },
]

/** The layers of a first stack: a ground, and one layer of each pass that is rendered. */
export function startingLayers(project: Pick<Project, 'passes' | 'shots' | 'shotId'>): SheetNode[] {
  const ground = newLayer({
    id: newId(),
    name: 'Ground',
    content: gradientFill('linear', ['#efe6d2', '#dcc3a4']),
  })
  const layers = STACK.flatMap(({ kind, name, mode, opacity, visible, look }): SheetNode[] => {
    const pass = activePasses(project).find((p) => p.kind === kind && p.rendered)
    if (!pass) return []
    const defaults = paramDefaults(passKind(kind).lookSchema)
    const content = passOf(pass.id, { ...defaults, ...look })
    return [newLayer({ id: newId(), name, visible, mode, opacity, content })]
  })
  return [ground, ...layers]
}

/** Hangs a first stack in front of what is there. One undo step. */
export function hangStartingStack(project: Project): void {
  const layers = startingLayers(project)
  changeProject('hang a first stack', (draft) => {
    for (const layer of layers) insertNode(activeSheet(draft), layer, { parent: null, index: Infinity })
  })
  setBench({ layerId: null, peel: Infinity })
}
