'use client'

import { BLEND_MODES } from '@/core/sheet/blend-modes'
import { activePasses, activeSheet } from '@/data/active-shot'
import { hasContent, type SheetNode } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { COMPARE_BY, SEEN_AS, setBench, useViewStore } from '@/state/view-store'
import { copyLayer, copyMask, pasteMask } from './layer-clipboard'
import { seenAsLabels } from './seen-as'
import {
  addFillLayer,
  addFlare,
  addTexture,
  addGroup,
  addLivePressing,
  addWash,
  changeAnyLayer,
  changeLayer,
  deleteLayer,
  duplicateLayer,
  foldGroup,
  hangingLayers,
  stepLayer,
  ungroup,
} from './layer-actions'
import { LINE_TOOLS, setBrush, sizeBrush, type LineTool } from './line-brush'
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
  readonly picking: Picking
  readonly setPicking: (change: (now: Picking) => Picking) => void
  readonly pickPicture: () => void
  readonly press: () => void
  readonly paste: () => void
}

/** Offers what can be done with the sheet and the layer at work. */
export function useSheetActions(asked: SheetActions): void {
  const { project, layer, at, isLines, picking, setPicking, pickPicture, press, paste } = asked
  const sheet = activeSheet(project)
  const layers = hangingLayers(sheet)
  const peel = useViewStore((s) => s.peel)
  const seam = useViewStore((s) => s.seam)
  const compareBy = useViewStore((s) => s.compareBy)
  const brush = useViewStore((s) => s.lineBrush)
  const brushing = isLines && brush.tool !== null && !picking
  const choose = (index: number) => {
    const next = layers[Math.min(layers.length - 1, Math.max(0, index))]
    if (next) setBench({ layerId: next.id })
  }
  const nudgeOpacity = (by: number) =>
    layer &&
    changeLayer(
      layer.id,
      'opacity',
      (l) => void (l.opacity = Math.round(Math.min(1, Math.max(0, l.opacity + by)) * 100) / 100),
      'opacity',
    )
  const cycleMode = (by: number) =>
    layer &&
    changeLayer(layer.id, 'blend mode', (l) => {
      l.mode = BLEND_MODES[(BLEND_MODES.indexOf(l.mode) + by + BLEND_MODES.length) % BLEND_MODES.length]
    })
  const isReading = useViewStore((s) => s.isReading)
  const seenAs = useViewStore((s) => s.seenAs)
  const isFlipped = useViewStore((s) => s.isFlipped)
  const hasPass = activePasses(project).some((p) => p.rendered)
  const most = sheet.roots.length
  const shown = Math.min(peel, most)
  const setPeel = (n: number) => setBench({ peel: n >= most ? Infinity : Math.max(0, n) })
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
      run: () => layer && stepLayer(layer.id, 1),
    },
    {
      id: 'backward',
      label: 'Move layer back',
      keys: 'Shift+ArrowLeft',
      run: () => layer && stepLayer(layer.id, -1),
    },
    { id: 'more', label: 'More opacity', keys: 'ArrowUp', run: () => nudgeOpacity(0.05) },
    { id: 'less', label: 'Less opacity', keys: 'ArrowDown', run: () => nudgeOpacity(-0.05) },
    {
      id: 'show',
      label: layer?.visible === false ? 'Show layer' : 'Hide layer',
      keys: 'h',
      run: () =>
        layer &&
        changeAnyLayer(
          layer.id,
          layer.visible ? 'hide layer' : 'show layer',
          (l) => void (l.visible = !l.visible),
        ),
    },
    { id: 'mode-next', label: 'Next blend mode', keys: 'm', run: () => cycleMode(1) },
    { id: 'mode-previous', label: 'Previous blend mode', keys: 'Shift+M', run: () => cycleMode(-1) },
    { id: 'copy', label: 'Copy layer', keys: '$mod+c', run: () => layer && copyLayer(layer.id) },
    { id: 'copy-mask', label: 'Copy the mask', run: () => layer && copyMask(layer.id) },
    { id: 'paste-mask', label: 'Paste the mask', run: () => layer && pasteMask(layer.id) },
    { id: 'paste', label: 'Paste layer', keys: '$mod+v', run: paste },
    {
      id: 'lock',
      label: layer?.locked ? 'Unlock layer' : 'Lock layer',
      keys: 'k',
      run: () =>
        layer &&
        changeAnyLayer(
          layer.id,
          layer.locked ? 'unlock layer' : 'lock layer',
          (l) => void (l.locked = !l.locked),
        ),
    },
    ...layers.map((own) => ({
      id: `go ${own.id}`,
      label: `Layer: ${own.name}`,
      run: () => setBench({ layerId: own.id }),
    })),
    { id: 'duplicate', label: 'Duplicate layer', keys: 'd', run: () => layer && duplicateLayer(layer.id) },
    { id: 'delete', label: 'Delete layer', keys: 'Delete', run: () => layer && deleteLayer(layer.id) },
    {
      id: 'none',
      label: 'Choose no layer, show the sheet',
      keys: 's',
      run: () => setBench({ layerId: null }),
    },
    ...(layers.length === 0 && hasPass
      ? [{ id: 'stack', label: 'Hang a first stack', run: () => hangStartingStack(project) }]
      : []),
    { id: 'fill', label: 'Add a fill layer', keys: 'n', run: addFillLayer },
    { id: 'texture', label: 'Add a texture', run: addTexture },
    { id: 'flare', label: 'Add a light flare', run: addFlare },
    { id: 'wash', label: 'Add a wash', keys: 'w', run: () => addWash() },
    { id: 'press', label: 'Press what is seen into a layer', keys: 'Shift+P', run: press },
    { id: 'live-pressing', label: 'Add a live pressing', run: addLivePressing },
    { id: 'group', label: layer ? 'Put the layer in a group' : 'Add a group', keys: 'g', run: addGroup },
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
    ...(picking
      ? [{ id: 'pick-end', label: 'Stop picking', keys: 'Escape', run: () => setPicking(() => null) }]
      : []),
  ])
}
