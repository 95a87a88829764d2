'use client'

import { activePasses, activeSheet, activeShot } from '@/data/active-shot'
import { isOfPoster } from '@/data/poster-series'
import { useEffect, useRef, useState } from 'react'
import { useSnackbar } from 'notistack'
import { extension } from '@/core/formats/file-bundle'
import { PICTURE_ACCEPT } from '@/core/formats/picture-kinds'
import { passKind } from '@/core/passes/registry'
import { passPlacement } from '@/core/sheet/pass-placement'
import { askSheet } from '@/state/sheet-sync'
import { leavePages } from '@/state/poster-actions'
import { setBench, useViewStore } from '@/state/view-store'
import { useOpenProject } from '@/ui/open-project'
import { PictureView } from '@/ui/picture-view'
import { paintNoted } from '@/state/paint-session'
import { takeNoted } from '@/state/stroke-journal'
import { PaintOverlay } from './paint/paint-overlay'
import { PaintPanel } from './paint/paint-panel'
import { PAINT_TOOLS, setPaint, usePaint } from './paint/paint-store'
import { PaintTools } from './paint/paint-tools'
import { RecipePanel } from '../recipes/recipe-panel'
import { ColourSection, ProbeMark } from './colour-section'
import { SeenAsFilters, SeenAsSelect, seenStyle } from './seen-as'
import { BrushOverlay } from './brush-overlay'
import { ChosenInspector } from './chosen-inspector'
import { chosenIds } from './chosen-layers'
import { CompareBar, CompareSeam } from './compare-seam'
import { outlinedOf, seenMaskOf, shownSide } from './compare-sides'
import { EmptySheet } from './empty-sheet'
import { FillHandles } from './fill-handles'
import { addLayersFile, addPictureLayer, hangingLayers, toggleInMask } from './layer-actions'
import { pasteLayer } from './layer-clipboard'
import { HistoryPanel } from './history-panel'
import { LayerInspector } from './layer-inspector'
import { LINE_TOOLS } from './line-brush'
import { MakingStrip } from './making-strip'
import { endPick, useProofPick } from './proof-pick'
import { ProofMarksOverlay } from './proof-marks-overlay'
import { PictureHandles } from './picture-handles'
import { pressSeen } from './press-layer'
import { Rack } from './rack'
import { RackTools } from './rack-tools'
import { ScopesPanel } from './scopes-panel'
import { SheetInspector } from './sheet-inspector'
import { ProofCanvas } from './proof-canvas'
import { ProofLook } from './proof-look'
import { WorkBar } from './work-bar'
import { useHovered } from './use-hovered'
import { useSheetActions, type Picking } from './use-sheet-actions'
import { SheetStepStyles } from './sheet-step-styles'
import { useRefusals } from './use-refusals'

/** The stack: rack, proof, inspector. A page of a poster is worked on elsewhere: from one it goes to the sheet it shows. */
export function SheetStep() {
  const project = useOpenProject()
  const isPage = isOfPoster(activeSheet(project))
  useEffect(() => {
    if (isPage) leavePages()
  }, [isPage])
  return isPage ? null : <SheetBench />
}

function SheetBench() {
  const project = useOpenProject()
  const { enqueueSnackbar } = useSnackbar()
  const sheet = activeSheet(project)
  const layers = hangingLayers(sheet)
  const layerId = useViewStore((s) => s.layerId)
  const peel = useViewStore((s) => s.peel)
  const isMaking = useViewStore((s) => s.isMaking)
  const seam = useViewStore((s) => s.seam)
  const [picking, setPicking] = useState<Picking>(null)
  const [picked, setPicked] = useState('')
  const [told, setTold] = useState('')
  const inputRef = useRef<HTMLInputElement>(null)
  const alsoChosen = useViewStore((s) => s.alsoChosen)
  const several = chosenIds(sheet, { layerId, alsoChosen })
  const at = layers.findIndex((l) => l.id === layerId)
  const layer = at >= 0 ? layers[at] : undefined
  const [look] = useState(() => new ProofLook())
  const [problem, setProblem] = useState<string | null>(null)
  const brush = useViewStore((s) => s.lineBrush)
  const ofPass = layer?.content.kind === 'pass' ? layer.content.passId : null
  const lineKind = project.passes.find((p) => p.id === ofPass && p.rendered)?.kind
  const isLines = lineKind !== undefined && passKind(lineKind).lines !== null
  const brushing = isLines && brush.tool !== null && !picking
  const { rendered } = project.passes.find((p) => p.id === ofPass) ?? {}
  // Strokes are kept in shares of the pass's own picture, wherever it lies on the sheet.
  const brushBox = passPlacement(rendered ?? sheet, sheet, sheet)
  const hasPass = activePasses(project).some((p) => p.rendered)
  const seenAs = useViewStore((s) => s.seenAs)
  const isFlipped = useViewStore((s) => s.isFlipped)
  const isReading = useViewStore((s) => s.isReading)
  const probe = useViewStore((s) => s.probe)
  // What lies over the proof lies where it is as it is.
  const isOver = !picking && !isFlipped && seenAs !== 'afar'
  const compareLeft = useViewStore((s) => s.compareLeft)
  const compareRight = useViewStore((s) => s.compareRight)
  const maskSeen = useViewStore((s) => s.maskSeen)
  const compare = seam !== null && (layer !== undefined || compareLeft !== 'without')
  const left = shownSide(project, layer, compareLeft)
  const right = shownSide(project, layer, compareRight)
  const maskedId = !compare && maskSeen !== 'off' && layer?.mask ? layer.id : null
  const seenMask =
    maskedId === null || maskSeen === 'off' ? null : seenMaskOf(sheet, maskedId, maskSeen, peel)
  const paintTool = usePaint((s) => s.tool)
  const paintProblem = usePaint((s) => s.problem)
  const turnDeg = usePaint((s) => s.turnDeg)
  const staying = usePaint(({ tool, stays, spread, chosen }) =>
    tool === null || stays === 'nothing' ? null : [stays, spread, ...chosen].join(' '),
  )
  const isPainting = paintTool !== null
  const { hovered, hover } = useHovered(
    project,
    isPainting ? null : picking,
    staying === null ? null : `${staying} ${layerId}`,
  )
  useEffect(() => {
    if (paintProblem === null) return
    enqueueSnackbar(paintProblem, { variant: 'warning' })
    setPaint({ problem: null })
  }, [paintProblem, enqueueSnackbar])
  useEffect(() => {
    const finish = async () => {
      for (const noted of takeNoted(project.id)) await paintNoted(noted)
    }
    finish().catch((error: unknown) =>
      enqueueSnackbar(
        `A stroke that was cut off could not be finished: ${error instanceof Error ? error.message : String(error)}`,
        { variant: 'warning' },
      ),
    )
    return () => setPaint({ tool: null })
  }, [project.id, enqueueSnackbar])
  const outlined = hovered && !compare ? outlinedOf(sheet, hovered, peel) : null
  const other = compare ? right.sheet : (outlined ?? seenMask)
  useEffect(() => {
    if (seam !== null && compareLeft === 'without' && !layer && layers.length > 0)
      setBench({ layerId: layers[layers.length - 1].id })
  }, [seam, compareLeft, layer, layers])

  const recipe = useViewStore((s) => s.recipe)
  const panel = useViewStore((s) => s.panel)
  useRefusals()
  const press = async () => {
    try {
      await pressSeen()
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  const paste = async () => {
    try {
      for (const note of await pasteLayer()) enqueueSnackbar(note, { variant: 'warning' })
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  useSheetActions({
    project,
    layer,
    at,
    isLines,
    isSeveral: several.length > 1,
    picking,
    setPicking,
    pickPicture: () => inputRef.current?.click(),
    press: () => void press(),
    paste: () => void paste(),
  })
  const waiting = useProofPick((s) => s.pick)
  const pick = async (x: number, y: number) => {
    if (waiting) {
      endPick()
      waiting.take(x, y)
      return
    }
    if (isReading) {
      setBench({ probe: [x, y] })
      return
    }
    const found = await askSheet(project, (worker) => worker.pick(activeShot(project).id, sheet, x, y))
    if (!found.hasIdPass) {
      enqueueSnackbar('Render the ID pass first: masks and picking are made from it.', { variant: 'warning' })
      return
    }
    if (!found.surface) {
      setPicked('Background')
      return
    }
    setPicked(`${found.surface.partName} / ${found.surface.materialName}`)
    if (!picking || !layer) return
    const { part, material, groups } = found.surface
    const key = picking === 'parts' ? part : picking === 'materials' ? material : groups.at(-1)
    if (key === undefined) enqueueSnackbar('That part lies in no group.', { variant: 'warning' })
    else toggleInMask(layer.id, picking, key)
  }
  const addPicture = async (file: File | undefined) => {
    if (!file) return
    try {
      if (extension(file.name) !== 'ora') await addPictureLayer(file)
      else for (const note of await addLayersFile(file)) enqueueSnackbar(note, { variant: 'warning' })
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  return (
    <div className="sheet-step">
      <SheetStepStyles />
      <SeenAsFilters />
      <input
        ref={inputRef}
        type="file"
        accept={`${PICTURE_ACCEPT},.ora`}
        hidden
        data-testid="picture-input"
        onChange={(e) => {
          void addPicture(e.target.files?.[0])
          e.target.value = ''
        }}
      />
      <div
        className="sheet-pane"
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          e.preventDefault()
          void addPicture(e.dataTransfer.files[0])
        }}
      >
        {isMaking && <MakingStrip sheet={sheet} />}
        <PictureView
          turnDeg={isPainting ? turnDeg : 0}
          width={sheet.width}
          height={sheet.height}
          picture={
            <div style={{ position: 'absolute', inset: 0, ...seenStyle(seenAs, isFlipped) }}>
              <ProofCanvas
                project={project}
                look={look}
                upTo={other ? Infinity : peel}
                without={compare ? right.without : null}
                sheet={other}
                label="Proof"
                onProblem={setProblem}
              />
            </div>
          }
          onLook={look.take}
          onHover={
            isPainting ? undefined : (place) => hover(place && isFlipped ? [1 - place[0], place[1]] : place)
          }
          onPick={(x, y) => void pick(isFlipped ? 1 - x : x, y)}
          status={
            <>
              <span>
                {isPainting
                  ? `${PAINT_TOOLS[paintTool].label} ${PAINT_TOOLS[paintTool].does}${hovered ? `, inside ${hovered.name}` : '; Alt picks, W and Q size, A turns'}`
                  : waiting
                    ? `${waiting.label}; Esc ends`
                    : isReading
                      ? 'Click where a colour is to be read; Esc ends'
                      : picking
                        ? `${hovered ? `${hovered.name}: click` : `Click ${picking}`} to put ${hovered ? 'it' : 'them'} in the mask of ${layer?.name ?? 'the layer'}, or take ${hovered ? 'it' : 'them'} out; Esc ends`
                        : brush.tool && brushing
                          ? told ||
                            `${LINE_TOOLS[brush.tool].label}: drag over the lines; W and Q size the brush, Esc ends`
                          : picked}
              </span>
              {problem && <span role="alert">{problem}</span>}
              <SeenAsSelect>
                {compare ? (
                  <CompareBar project={project} layer={layer} />
                ) : (
                  layers.length > 0 && !isPainting && <RackTools sheet={sheet} />
                )}
              </SeenAsSelect>
            </>
          }
        >
          {layers.length === 0 && <EmptySheet project={project} hasPass={hasPass} />}
          {layer?.content.kind === 'fill' && isOver && (
            <FillHandles layerId={layer.id} content={layer.content} sheet={sheet} />
          )}
          {layer?.content.kind === 'picture' && isOver && (
            <PictureHandles layerId={layer.id} content={layer.content} sheet={sheet} />
          )}
          {layer && isOver && <ProofMarksOverlay width={sheet.width} height={sheet.height} />}
          {probe && <ProbeMark place={isFlipped ? [1 - probe[0], probe[1]] : probe} />}
          {brushing && layer && (
            <BrushOverlay key={layer.id} layer={layer} box={brushBox} sheet={sheet} onTold={setTold} />
          )}
          {isPainting && !compare && (
            <PaintOverlay projectId={project.id} sheet={sheet} isFlipped={isFlipped} onHover={hover} />
          )}
          {compare && (
            <CompareSeam project={project} upTo={peel} left={left} right={right} seam={seam} look={look} />
          )}
        </PictureView>
        {isPainting && <PaintTools />}
        <WorkBar />
      </div>
      <aside key={isPainting ? 'brush' : 'layer'} className="inspector" aria-label="Inspector">
        <ColourSection project={project} />
        {isPainting ? (
          <PaintPanel />
        ) : recipe !== null ? (
          <RecipePanel project={project} />
        ) : panel === 'history' ? (
          <HistoryPanel project={project} />
        ) : panel === 'scopes' ? (
          <ScopesPanel project={project} layer={layer} />
        ) : layer && several.length > 1 ? (
          <ChosenInspector layers={several.map((id) => sheet.nodes[id])} lead={layer} />
        ) : layer ? (
          <LayerInspector project={project} layer={layer} picking={picking} setPicking={setPicking} />
        ) : (
          <SheetInspector project={project} />
        )}
      </aside>
      <Rack project={project} onAddPicture={() => inputRef.current?.click()} onPress={() => void press()} />
    </div>
  )
}
