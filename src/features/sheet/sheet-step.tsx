'use client'

import { activePasses, activeSheet, activeShot } from '@/data/active-shot'
import Link from 'next/link'
import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { useSnackbar } from 'notistack'
import { PICTURE_ACCEPT } from '@/core/formats/picture-kinds'
import { passKind } from '@/core/passes/registry'
import { BLEND_MODES } from '@/core/sheet/blend-modes'
import { passPlacement } from '@/core/sheet/pass-placement'
import type { Project } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { sheetService } from '@/state/sheet-sync'
import { setBench, useViewStore } from '@/state/view-store'
import { useOpenProject } from '@/ui/open-project'
import { PictureView } from '@/ui/picture-view'
import {
  addFillLayer,
  addPictureLayer,
  changeLayer,
  deleteLayer,
  duplicateLayer,
  moveLayer,
  toggleInMask,
} from './layer-actions'
import { BrushOverlay } from './brush-overlay'
import { LayerInspector, SheetInspector } from './layer-inspector'
import { LINE_TOOLS, setBrush, sizeBrush, type LineTool } from './line-brush'
import { Rack } from './rack'
import { hangStartingStack } from './starting-stack'
import { useProof, useProofScale } from './use-proof'

/** The stack: rack, proof, inspector. */
export function SheetStep() {
  const project = useOpenProject()
  const { enqueueSnackbar } = useSnackbar()
  const sheet = activeSheet(project)
  const { layers } = sheet
  const layerId = useViewStore((s) => s.layerId)
  const peel = useViewStore((s) => s.peel)
  const seam = useViewStore((s) => s.seam)
  const [picking, setPicking] = useState<'part' | 'material' | null>(null)
  const [picked, setPicked] = useState('')
  const [told, setTold] = useState('')
  const inputRef = useRef<HTMLInputElement>(null)
  const at = layers.findIndex((l) => l.id === layerId)
  const layer = at >= 0 ? layers[at] : undefined
  const [scale, onZoom] = useProofScale()
  const proof = useProof(project, peel, null, scale)
  const brush = useViewStore((s) => s.lineBrush)
  const ofPass = layer?.source.type === 'pass' ? layer.source.passId : null
  const lineKind = project.passes.find((p) => p.id === ofPass && p.rendered)?.kind
  const isLines = lineKind !== undefined && passKind(lineKind).lines !== null
  const brushing = isLines && brush.tool !== null && !picking
  const { rendered } = project.passes.find((p) => p.id === ofPass) ?? {}
  // Strokes are kept in shares of the pass's own picture, wherever it lies on the sheet.
  const brushBox = passPlacement(rendered ?? sheet, sheet, sheet.fit)
  const compare = seam !== null && layer !== undefined
  useEffect(() => {
    if (seam !== null && !layer && layers.length > 0) setBench({ layerId: layers[layers.length - 1].id })
  }, [seam, layer, layers])

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
  const hasPass = activePasses(project).some((p) => p.rendered)
  const shown = Math.min(peel, layers.length)
  const setPeel = (n: number) => setBench({ peel: n >= layers.length ? Infinity : Math.max(0, n) })
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
      run: () => layer && moveLayer(layer.id, at + 1),
    },
    {
      id: 'backward',
      label: 'Move layer back',
      keys: 'Shift+ArrowLeft',
      run: () => layer && moveLayer(layer.id, at - 1),
    },
    { id: 'more', label: 'More opacity', keys: 'ArrowUp', run: () => nudgeOpacity(0.05) },
    { id: 'less', label: 'Less opacity', keys: 'ArrowDown', run: () => nudgeOpacity(-0.05) },
    {
      id: 'show',
      label: layer?.visible === false ? 'Show layer' : 'Hide layer',
      keys: 'h',
      run: () =>
        layer &&
        changeLayer(
          layer.id,
          layer.visible ? 'hide layer' : 'show layer',
          (l) => void (l.visible = !l.visible),
        ),
    },
    { id: 'mode-next', label: 'Next blend mode', keys: 'm', run: () => cycleMode(1) },
    { id: 'mode-previous', label: 'Previous blend mode', keys: 'Shift+M', run: () => cycleMode(-1) },
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
    { id: 'picture', label: 'Add a picture', run: () => inputRef.current?.click() },
    { id: 'peel-more', label: 'Peel one more', keys: ',', run: () => setPeel(shown - 1) },
    { id: 'peel-less', label: 'Put one back', keys: '.', run: () => setPeel(shown + 1) },
    { id: 'peel-none', label: 'Put all back', keys: '/', run: () => setPeel(Infinity) },
    {
      id: 'compare',
      label: 'Compare with and without the layer',
      keys: 'c',
      run: () => setBench({ seam: seam === null ? 0.5 : null }),
    },
    {
      id: 'pick',
      label: 'Pick parts for the mask in the proof',
      keys: 'p',
      run: () => layer && setPicking((p) => (p ? null : 'part')),
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
    ...(picking
      ? [{ id: 'pick-end', label: 'Stop picking', keys: 'Escape', run: () => setPicking(null) }]
      : []),
  ])
  const pick = async (x: number, y: number) => {
    const found = await sheetService().pick(activeShot(project).id, sheet, x, y)
    if (!found.hasIdPass) {
      enqueueSnackbar('Render the ID pass first: masks and picking are made from it.', { variant: 'warning' })
      return
    }
    if (!found.surface) {
      setPicked('Background')
      return
    }
    setPicked(`${found.surface.partName} / ${found.surface.materialName}`)
    if (picking && layer)
      toggleInMask(layer.id, picking, picking === 'part' ? found.surface.part : found.surface.material)
  }
  const addPicture = async (file: File | undefined) => {
    if (!file) return
    try {
      await addPictureLayer(file)
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  return (
    <div className="sheet-step">
      <input
        ref={inputRef}
        type="file"
        accept={PICTURE_ACCEPT}
        hidden
        data-testid="picture-input"
        onChange={(e) => {
          void addPicture(e.target.files?.[0])
          e.target.value = ''
        }}
      />
      <div
        style={{ display: 'grid', minWidth: 0, minHeight: 0, position: 'relative' }}
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          e.preventDefault()
          void addPicture(e.dataTransfer.files[0])
        }}
      >
        <PictureView
          width={sheet.width}
          height={sheet.height}
          canvasRef={proof.canvasRef}
          onZoom={onZoom}
          label="Proof"
          onPick={(x, y) => void pick(x, y)}
          status={
            <>
              <span>
                {picking
                  ? `Click ${picking}s to put them in the mask of ${layer?.name ?? 'the layer'}; Esc ends`
                  : brush.tool && brushing
                    ? told ||
                      `${LINE_TOOLS[brush.tool].label}: drag over the lines; W and Q size the brush, Esc ends`
                    : picked}
              </span>
              {proof.problem && <span role="alert">{proof.problem}</span>}
              <span data-testid="proof-time" hidden>
                {proof.milliseconds}
              </span>
            </>
          }
        >
          {layers.length === 0 && <EmptySheet project={project} hasPass={hasPass} />}
          {brushing && layer && (
            <BrushOverlay key={layer.id} layer={layer} box={brushBox} sheet={sheet} onTold={setTold} />
          )}
          {compare && (
            <CompareSeam
              project={project}
              upTo={peel}
              without={layer.id}
              name={layer.name}
              seam={seam}
              scale={scale}
            />
          )}
        </PictureView>
      </div>
      <aside className="inspector" aria-label="Inspector">
        {layer ? (
          <LayerInspector project={project} layer={layer} picking={picking} setPicking={setPicking} />
        ) : (
          <SheetInspector project={project} />
        )}
      </aside>
      <Rack
        project={project}
        proofSize={{ width: proof.width, height: proof.height }}
        onAddPicture={() => inputRef.current?.click()}
      />
    </div>
  )
}

/** What belongs on an empty sheet, and the one next action. */
function EmptySheet({ project, hasPass }: { project: Project; hasPass: boolean }) {
  return (
    <div className="empty-sheet">
      <h2 className="display">An empty sheet</h2>
      {hasPass ? (
        <>
          <p>
            Layers hang in the rack below, back at the left. A first stack is a base of clay with colour,
            shade and lines over it: a place to begin, every layer yours to change.
          </p>
          <Button variant="contained" onClick={() => hangStartingStack(project)} data-testid="first-stack">
            Hang a first stack
          </Button>
        </>
      ) : (
        <p>
          Nothing is rendered yet. <Link href={`/project/${project.id}/passes`}>Render the passes</Link>, then
          layer them here. Fills and pictures can be hung with + at any time.
        </p>
      )}
    </div>
  )
}

interface SeamProps {
  readonly project: Project
  readonly upTo: number
  readonly without: string
  readonly name: string
  readonly seam: number
  readonly scale: number | null
}

/** Left of the seam the stack without the layer, right of it with. */
function CompareSeam({ project, upTo, without, name, seam, scale }: SeamProps) {
  const { canvasRef } = useProof(project, upTo, without, scale)
  const boxRef = useRef<HTMLDivElement>(null)
  const drag = (clientX: number) => {
    const box = boxRef.current?.getBoundingClientRect()
    if (box) setBench({ seam: Math.min(1, Math.max(0, (clientX - box.left) / box.width)) })
  }
  return (
    <div ref={boxRef} style={{ position: 'absolute', inset: 0 }} data-testid="compare">
      <canvas
        ref={canvasRef}
        aria-label={`Without ${name}`}
        role="img"
        style={{
          position: 'absolute',
          inset: 0,
          width: '100%',
          height: '100%',
          clipPath: `inset(0 ${(1 - seam) * 100}% 0 0)`,
          background: 'repeating-conic-gradient(#9a9a98 0 25%, #a6a6a4 0 50%) 0 0 / 16px 16px',
        }}
      />
      <span className="seam-label" style={{ left: 10 }}>
        Without {name}
      </span>
      <span className="seam-label" style={{ right: 10 }}>
        With
      </span>
      <button
        className="seam"
        role="slider"
        aria-label="Seam"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(seam * 100)}
        style={{ left: `${seam * 100}%` }}
        onPointerDown={(e) => {
          e.stopPropagation()
          e.currentTarget.setPointerCapture(e.pointerId)
        }}
        onPointerMove={(e) => e.buttons > 0 && drag(e.clientX)}
        onKeyDown={(e) => {
          const step = e.key === 'ArrowLeft' ? -0.02 : e.key === 'ArrowRight' ? 0.02 : 0
          if (step === 0) return
          e.stopPropagation()
          e.preventDefault()
          setBench({ seam: Math.min(1, Math.max(0, seam + step)) })
        }}
      />
    </div>
  )
}
