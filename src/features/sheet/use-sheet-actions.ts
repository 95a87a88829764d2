'use client'

// One file: every action of the sheet with its key, so that no two take the same.

import { activePasses, activeSheet } from '@/data/active-shot'
import { MASK_SEEN } from '@/core/sheet/mask-seen'
import { hasContent, type SheetNode } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { READY_RECIPES } from '@/data/recipes/ready/registry'
import { useActions } from '@/state/actions'
import { COMPARE_BY, SEEN_AS, setBench, useViewStore } from '@/state/view-store'
import {
  changeChosen,
  chooseAll,
  chooseLayer,
  chooseOneMore,
  chosenIds,
  cycleChosenMode,
  deleteChosen,
  duplicateChosen,
  groupChosen,
  shareMask,
  stepChosen,
} from './chosen-layers'
import { copyLayers, copyMask, pasteMask } from './layer-clipboard'
import { seenAsLabels } from './seen-as'
import {
  addFillLayer,
  addFlare,
  addSpecks,
  addTexture,
  addGroup,
  addLivePressing,
  addWash,
  deleteLayer,
  duplicateLayer,
  foldGroup,
  hangingLayers,
  ungroup,
} from './layer-actions'
import { startFallenShadow } from './start-fallen-shadow'
import { LINE_TOOLS, setBrush, sizeBrush, type LineTool } from './line-brush'
import { endPick, useProofPick } from './proof-pick'
import { keepState } from '@/state/sheet-actions'
import { nextStateName } from './kept-states'
import { addPaintedLayer } from './paint/begin-stroke'
import { QUICK_STARTS } from './paint/quick-starts'
import {
  PAINT_TOOLS,
  setPaint,
  sizeBrushBy,
  turnCanvasBy,
  usePaint,
  type PaintTool,
} from './paint/paint-store'
import { beginFind, setSmallCards } from './rack-tools'
import { beginMaking, endMaking, makingStops, showStop, stopBeside } from './making'
import { hangStartingStack } from './starting-stack'

/** What is picked on the proof for a layer's mask. */
export type Picking = 'parts' | 'materials' | 'groups' | null

interface SheetActions {
  readonly project: Project
  /** The layer at work, and its place. */
  readonly layer: SheetNode | undefined
  readonly at: number
  /** Whether it shows lines. */
  readonly isLines: boolean
  /** Whether several layers are chosen. */
  readonly isSeveral: boolean
  readonly picking: Picking
  readonly setPicking: (change: (now: Picking) => Picking) => void
  readonly pickPicture: () => void
  readonly press: () => void
  readonly paste: () => void
}

/** Offers what can be done with the sheet and the layer at work. */
export function useSheetActions(asked: SheetActions): void {
  const { project, layer, at, isLines, isSeveral, picking, setPicking, pickPicture, press, paste } = asked
  const sheet = activeSheet(project)
  const layers = hangingLayers(sheet)
  const peel = useViewStore((s) => s.peel)
  const seam = useViewStore((s) => s.seam)
  const compareBy = useViewStore((s) => s.compareBy)
  const brush = useViewStore((s) => s.lineBrush)
  const brushing = isLines && brush.tool !== null && !picking
  const choose = (index: number) => {
    const next = layers[Math.min(layers.length - 1, Math.max(0, index))]
    if (next) chooseLayer(next.id)
  }
  const nudged = (opacity: number, by: number) =>
    Math.round(Math.min(1, Math.max(0, opacity + by)) * 100) / 100
  const nudgeOpacity = (by: number) =>
    changeChosen('opacity', (l) => void (l.opacity = nudged(l.opacity, by)), { merge: 'opacity' })
  const recipe = useViewStore((s) => s.recipe)
  const hasSmallCards = useViewStore((s) => s.hasSmallCards)
  const isPainting = usePaint((s) => s.tool !== null)
  const waiting = useProofPick((s) => s.pick)
  const maskSeen = useViewStore((s) => s.maskSeen)
  const panel = useViewStore((s) => s.panel)
  const isReading = useViewStore((s) => s.isReading)
  const seenAs = useViewStore((s) => s.seenAs)
  const isFlipped = useViewStore((s) => s.isFlipped)
  const hasPass = activePasses(project).some((p) => p.rendered)
  const most = sheet.roots.length
  const shown = Math.min(peel, most)
  const isMaking = useViewStore((s) => s.isMaking)
  const setPeel = (n: number) => setBench({ peel: n >= most ? Infinity : Math.max(0, n) })
  const stop = (by: 1 | -1) => showStop(sheet, stopBeside(makingStops(sheet), shown, by))
  useActions('Sheet', [
    { id: 'next', label: 'Layer in front', keys: 'ArrowRight', run: () => choose(at + 1) },
    {
      id: 'previous',
      label: 'Layer behind',
      keys: 'ArrowLeft',
      run: () => choose(at < 0 ? layers.length - 1 : at - 1),
    },
    {
      id: 'forward',
      label: 'Move layer forward',
      keys: 'Shift+ArrowRight',
      run: () => stepChosen(1),
    },
    {
      id: 'backward',
      label: 'Move layer back',
      keys: 'Shift+ArrowLeft',
      run: () => stepChosen(-1),
    },
    { id: 'more', label: 'More opacity', keys: 'ArrowUp', run: () => nudgeOpacity(0.05) },
    { id: 'less', label: 'Less opacity', keys: 'ArrowDown', run: () => nudgeOpacity(-0.05) },
    {
      id: 'show',
      label: layer?.visible === false ? 'Show layer' : 'Hide layer',
      keys: 'h',
      run: () =>
        layer &&
        changeChosen(layer.visible ? 'hide layer' : 'show layer', (l) => void (l.visible = !layer.visible), {
          lockedToo: true,
        }),
    },
    { id: 'mode-next', label: 'Next blend mode', keys: 'm', run: () => cycleChosenMode(1) },
    { id: 'mode-previous', label: 'Previous blend mode', keys: 'Shift+M', run: () => cycleChosenMode(-1) },
    {
      id: 'copy',
      label: isSeveral ? 'Copy the chosen layers' : 'Copy layer',
      keys: '$mod+c',
      run: () => copyLayers(chosenIds(sheet, useViewStore.getState())),
    },
    { id: 'copy-mask', label: 'Copy the mask', run: () => layer && copyMask(layer.id) },
    { id: 'paste-mask', label: 'Paste the mask', run: () => layer && pasteMask(layer.id) },
    { id: 'paste', label: 'Paste layer', keys: '$mod+v', run: paste },
    {
      id: 'lock',
      label: layer?.locked ? 'Unlock layer' : 'Lock layer',
      keys: 'k',
      run: () =>
        layer &&
        changeChosen(layer.locked ? 'unlock layer' : 'lock layer', (l) => void (l.locked = !layer.locked), {
          lockedToo: true,
        }),
    },
    ...layers.map((own) => ({
      id: `go ${own.id}`,
      label: `Layer: ${own.name}`,
      run: () => setBench({ layerId: own.id }),
    })),
    {
      id: 'duplicate',
      label: isSeveral ? 'Duplicate the chosen layers' : 'Duplicate layer',
      keys: 'd',
      run: () => (isSeveral ? duplicateChosen() : layer && duplicateLayer(layer.id)),
    },
    {
      id: 'delete',
      label: isSeveral ? 'Delete the chosen layers' : 'Delete layer',
      keys: 'Delete',
      run: () => (isSeveral ? deleteChosen() : layer && deleteLayer(layer.id)),
    },
    { id: 'all', label: 'Choose all layers', keys: '$mod+a', run: chooseAll },
    {
      id: 'also-next',
      label: 'Also choose the layer in front',
      keys: '$mod+ArrowRight',
      run: () => chooseOneMore(1),
    },
    {
      id: 'also-previous',
      label: 'Also choose the layer behind',
      keys: '$mod+ArrowLeft',
      run: () => chooseOneMore(-1),
    },
    ...(isSeveral && layer
      ? [
          { id: 'only', label: 'Choose one layer only', keys: 'Escape', run: () => chooseLayer(layer.id) },
          { id: 'share-mask', label: 'Give all chosen layers the same mask', run: shareMask },
        ]
      : []),
    {
      id: 'none',
      label: 'Choose no layer, show the sheet',
      keys: 's',
      run: () => setBench({ layerId: null }),
    },
    ...(layers.length === 0 && hasPass
      ? [{ id: 'stack', label: 'Hang a first stack', run: () => hangStartingStack(project) }]
      : []),
    ...Object.entries(PAINT_TOOLS).map(([own, { label }]) => ({
      id: `paint-${own}`,
      label: `Brush: ${label}`,
      ...(own === 'paint' ? { keys: 'Shift+B' } : {}),
      run: () => setPaint({ tool: own as PaintTool }),
    })),
    ...QUICK_STARTS.map(({ id, label, start }) => ({
      id: `quick-${id}`,
      label: `Brush: ${label}`,
      run: start,
    })),
    { id: 'add-painted', label: 'Add a layer to paint on', run: () => void addPaintedLayer() },
    { id: 'find-layer', label: 'Find a layer', keys: 'Shift+F', run: beginFind },
    {
      id: 'small-cards',
      label: hasSmallCards ? 'Large cards' : 'Small cards',
      keys: 'Shift+S',
      run: () => setSmallCards(!hasSmallCards),
    },
    {
      id: 'recipes',
      label: 'Recipes',
      keys: 'r',
      run: () => setBench({ recipe: recipe === null ? '' : null }),
    },
    ...READY_RECIPES.map(({ id, name }) => ({
      id: `recipe-${id}`,
      label: `Recipe: ${name}`,
      run: () => setBench({ recipe: id }),
    })),
    { id: 'fill', label: 'Add a fill layer', keys: 'n', run: addFillLayer },
    { id: 'texture', label: 'Add a texture', run: addTexture },
    { id: 'flare', label: 'Add a light flare', run: addFlare },
    { id: 'specks', label: 'Add specks', run: addSpecks },
    { id: 'fallen-shadow', label: 'Add a fallen shadow', run: startFallenShadow },
    { id: 'wash', label: 'Add a wash', keys: 'w', run: () => addWash() },
    { id: 'press', label: 'Press what is seen into a layer', keys: 'Shift+P', run: press },
    { id: 'live-pressing', label: 'Add a live pressing', run: addLivePressing },
    {
      id: 'group',
      label: isSeveral ? 'Put the layers in a group' : layer ? 'Put the layer in a group' : 'Add a group',
      keys: 'g',
      run: () => (isSeveral ? groupChosen() : addGroup()),
    },
    ...(layer && hasContent(layer, 'group')
      ? [
          {
            id: 'fold',
            label: layer.content.folded ? 'Open the group' : 'Fold the group',
            keys: 'f',
            run: () => foldGroup(layer.id, !layer.content.folded),
          },
          { id: 'ungroup', label: 'Take the group apart', keys: 'Shift+G', run: () => ungroup(layer.id) },
        ]
      : []),
    { id: 'picture', label: 'Add a picture', run: pickPicture },
    { id: 'peel-more', label: 'Peel one more', keys: ',', run: () => setPeel(shown - 1) },
    { id: 'peel-less', label: 'Put one back', keys: '.', run: () => setPeel(shown + 1) },
    { id: 'peel-none', label: 'Put all back', keys: '/', run: () => setPeel(Infinity) },
    {
      id: 'making',
      label: 'How it was made, layer by layer',
      keys: 'Shift+N',
      run: () => (isMaking ? endMaking() : beginMaking(sheet)),
    },
    ...(isMaking
      ? [
          { id: 'making-end', label: 'Put all back, and no notes', keys: 'Escape', run: endMaking },
          { id: 'making-next', label: 'Layer after, with its note', keys: 'PageDown', run: () => stop(1) },
          {
            id: 'making-previous',
            label: 'Layer before, with its note',
            keys: 'PageUp',
            run: () => stop(-1),
          },
        ]
      : []),
    {
      id: 'compare',
      label: 'Compare with and without the layer',
      keys: 'c',
      run: () => setBench({ seam: seam === null ? 0.5 : null }),
    },
    ...COMPARE_BY.filter((by) => by !== 'seam').map((by) => ({
      id: `compare-${by}`,
      label: by === 'blink' ? 'Blink with and without the layer' : 'Show what the layer changes alone',
      keys: by === 'blink' ? 'Shift+C' : 'Shift+D',
      run: () =>
        setBench(
          seam !== null && compareBy === by
            ? { seam: null, compareBy: 'seam' }
            : { seam: seam ?? 0.5, compareBy: by },
        ),
    })),
    {
      id: 'mask-seen',
      label: 'See the mask as a tint, or at work',
      keys: 't',
      run: () => setBench({ maskSeen: maskSeen === 'off' ? 'tint' : 'off' }),
    },
    ...MASK_SEEN.map((own) => ({
      id: `mask-${own}`,
      label: `See the mask: ${own}`,
      run: () => setBench({ maskSeen: own }),
    })),
    {
      id: 'keep',
      label: 'Keep this state of the sheet',
      keys: 'Shift+K',
      run: () => keepState(nextStateName(project)),
    },
    {
      id: 'history',
      label: 'History',
      keys: 'Shift+H',
      run: () => setBench({ panel: panel === 'history' ? null : 'history' }),
    },
    {
      id: 'scopes',
      label: 'Histogram and waveform',
      keys: 'Shift+I',
      run: () => setBench({ panel: panel === 'scopes' ? null : 'scopes' }),
    },
    {
      id: 'read',
      label: 'Read colours in the proof',
      keys: 'i',
      run: () => setBench(isReading ? { isReading: false, probe: null } : { isReading: true }),
    },
    ...SEEN_AS.map((own) => ({
      id: `seen-${own}`,
      label: own === 'plain' ? 'See the proof as it is' : `See the proof: ${seenAsLabels[own].toLowerCase()}`,
      run: () => setBench({ seenAs: own }),
    })),
    {
      id: 'grey-view',
      label: 'See the proof in grey, or as it is',
      keys: 'y',
      run: () => setBench({ seenAs: seenAs === 'grey' ? 'plain' : 'grey' }),
    },
    {
      id: 'flip',
      label: 'See the proof flipped',
      keys: 'x',
      run: () => setBench({ isFlipped: !isFlipped }),
    },
    {
      id: 'pick',
      label: 'Pick parts for the mask in the proof',
      keys: 'p',
      run: () => layer && setPicking((p) => (p ? null : 'parts')),
    },
    ...(isLines
      ? [
          {
            id: 'brush',
            label: brush.tool ? 'Put the line brush down' : 'Brush over the lines',
            keys: 'b',
            run: () => setBrush({ tool: brush.tool ? null : 'thicken' }),
          },
          ...Object.entries(LINE_TOOLS).map(([tool, { label }]) => ({
            id: `brush-${tool}`,
            label: tool === 'draw' ? 'Draw a line by hand' : `${label} lines by hand`,
            run: () => setBrush({ tool: tool as LineTool }),
          })),
        ]
      : []),
    ...(brushing
      ? [
          {
            id: 'brush-end',
            label: 'Put the line brush down',
            keys: 'Escape',
            run: () => setBrush({ tool: null }),
          },
          { id: 'brush-larger', label: 'Larger brush', keys: 'w', run: () => sizeBrush(1.25) },
          { id: 'brush-smaller', label: 'Smaller brush', keys: 'q', run: () => sizeBrush(0.8) },
        ]
      : []),
    ...(isReading
      ? [
          {
            id: 'read-end',
            label: 'Stop reading colours',
            keys: 'Escape',
            run: () => setBench({ isReading: false }),
          },
        ]
      : []),
    ...(waiting ? [{ id: 'wait-end', label: 'Stop waiting for a click', keys: 'Escape', run: endPick }] : []),
    ...(picking
      ? [{ id: 'pick-end', label: 'Stop picking', keys: 'Escape', run: () => setPicking(() => null) }]
      : []),
    ...(isPainting
      ? [
          { id: 'paint-end', label: 'End painting', keys: 'Escape', run: () => setPaint({ tool: null }) },
          { id: 'turn-right', label: 'Turn the canvas to the right', keys: 'a', run: () => turnCanvasBy(15) },
          {
            id: 'turn-left',
            label: 'Turn the canvas to the left',
            keys: 'Shift+A',
            run: () => turnCanvasBy(-15),
          },
          {
            id: 'turn-straight',
            label: 'Set the canvas straight',
            keys: 'e',
            run: () => setPaint({ turnDeg: 0 }),
          },
          { id: 'paint-larger', label: 'Larger brush', keys: 'w', run: () => sizeBrushBy(1) },
          { id: 'paint-smaller', label: 'Smaller brush', keys: 'q', run: () => sizeBrushBy(-1) },
        ]
      : []),
  ])
}
