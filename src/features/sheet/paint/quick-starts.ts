import { newEffect, newMask, newTerm } from '@/core/sheet/new-layer'
import { layersOf } from '@/core/sheet/sheet-tree'
import { newId } from '@/data/new-project'
import { activeSheet } from '@/data/active-shot'
import { useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import { startFallenShadow } from '../start-fallen-shadow'
import { addSpecks, changeLayer } from '../layer-actions'
import { addPaintedLayer } from './begin-stroke'
import { brushOf, setPaint, usePaint } from './paint-store'

interface QuickStart {
  readonly id: string
  readonly label: string
  readonly summary: string
  readonly start: () => void
}

/** The frontmost layer of an occlusion pass that is seen; null without one. */
function occlusionLayer(): string | null {
  const { project } = useProjectStore.getState()
  if (!project) return null
  const kinds = new Map(project.passes.map(({ id, kind }) => [id, kind]))
  const found = layersOf(activeSheet(project)).filter(
    ({ content, visible }) => visible && content.kind === 'pass' && kinds.get(content.passId) === 'occlusion',
  )
  return found.at(-1)?.id ?? null
}

const sheetSize = (): { readonly width: number; readonly height: number } => {
  const { project } = useProjectStore.getState()
  return project ? activeSheet(project) : { width: 1, height: 1 }
}
const brushes = () => usePaint.getState().brushes
/** Several settings that belong together, in one press. */
export const QUICK_STARTS: readonly QuickStart[] = [
  {
    id: 'chalk-reveal',
    label: 'Reveal with chalk',
    summary: 'Takes the chosen layer away with a chalky tip, so that the one beneath shows through.',
    start: () =>
      setPaint({
        tool: 'reveal',
        tip: 'chalk',
        brushes: {
          ...brushes(),
          chalk: { ...brushOf({ brushes: brushes() }, 'chalk'), whole: 0.9, flow: 0.5 },
        },
      }),
  },
  {
    id: 'grain-of-light',
    label: 'Grain of light',
    summary: 'A layer of light, screened, and a tip that throws drops of it.',
    start: () => {
      const id = addPaintedLayer()
      if (id !== null)
        changeLayer(id, 'grain of light', (layer) => {
          layer.name = 'Grain of light'
          layer.mode = 'screen'
          layer.opacity = 0.8
        })
      setPaint({
        tool: 'paint',
        tip: 'spatter',
        colours: ['#ffe9c0', usePaint.getState().colours[1]],
        mixed: 0,
        brushes: {
          ...brushes(),
          spatter: { ...brushOf({ brushes: brushes() }, 'spatter'), size: 120, jitterFlow: 0.7 },
        },
      })
    },
  },
  {
    id: 'specks',
    label: 'Specks where I paint',
    summary: 'Floating particles in several depths, seen where a soft tip shows them.',
    start: () => {
      addSpecks()
      const id = useViewStore.getState().layerId
      if (id !== null)
        changeLayer(id, 'specks where painted', (layer) => {
          const { width, height } = sheetSize()
          const term = newTerm('painted', { width, height, tiles: {}, outside: false, join: 'add' })
          if (layer.content.kind === 'specks') layer.content.brightness = 2
          layer.mask = { ...newMask(), terms: [term] }
        })
      setPaint({
        tool: 'restore',
        tip: 'softRound',
        stays: 'nothing',
        brushes: {
          ...brushes(),
          softRound: { ...brushOf({ brushes: brushes() }, 'softRound'), size: 240, flow: 0.8 },
        },
      })
    },
  },
  {
    id: 'cracks',
    label: 'Cracks',
    summary: 'Grows cracks inside the part that a line is drawn on.',
    start: () => setPaint({ tool: 'crack', stays: 'parts', lead: 'free' }),
  },
  {
    id: 'fallen-shadow',
    label: 'Fallen shadow',
    summary: 'Lays the shadow of what you click on the ground, with handles to lead it by.',
    start: () => {
      setPaint({ tool: null })
      startFallenShadow()
    },
  },
  {
    id: 'rim',
    label: 'Rim of light',
    summary: 'A rim of light on the chosen layer, where a soft tip shows it.',
    start: () => {
      const { layerId } = useViewStore.getState()
      if (layerId === null) {
        setPaint({ problem: 'Rim of light: choose the layer that gets it first.' })
        return
      }
      const { width, height } = sheetSize()
      const term = newTerm('painted', { width, height, tiles: {}, outside: false, join: 'add' })
      const effect = { ...newEffect(newId(), 'rim'), mask: { ...newMask(), terms: [term] } }
      changeLayer(layerId, 'rim of light where painted', (layer) => void layer.effects.push(effect))
      setPaint({ tool: 'restore', tip: 'softRound', onEffect: effect.id })
    },
  },
  {
    id: 'open-shadows',
    label: 'Open the occlusion',
    summary: 'Takes occlusion away where a soft tip goes: light gets in there.',
    start: () => {
      const id = occlusionLayer()
      if (id === null) {
        setPaint({ problem: 'Open the occlusion: there is no occlusion layer on the sheet.' })
        return
      }
      setBench({ layerId: id })
      setPaint({ tool: 'reveal', tip: 'softRound', onEffect: null })
    },
  },
  {
    id: 'touch-up',
    label: 'Touch up the mask',
    summary: 'A soft tip on the mask of the chosen layer, kept within the part that it starts on.',
    start: () => setPaint({ tool: 'reveal', tip: 'softRound', stays: 'parts' }),
  },
]
