'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import Link from 'next/link'
import { useSnackbar } from 'notistack'
import Button from '@mui/material/Button'
import { layersOf } from '@/core/sheet/sheet-tree'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { plateOf } from '@/data/page-inks'
import { inUnit, MM_PER_INCH, pageOf, sizeInWords } from '@/data/page-size'
import type { ProjectSheet } from '@/data/project-schema'
import { activeSheet } from '@/data/active-shot'
import { isOfPoster } from '@/data/poster-series'
import { useActions } from '@/state/actions'
import { addMockup, addPoster, FIRST_PAPER, goToPage } from '@/state/poster-actions'
import { paintedSheet } from '@/data/shown-sheets'
import { askSheet } from '@/state/sheet-sync'
import { setBench, useViewStore } from '@/state/view-store'
import { LengthUnitProvider } from '@/ui/fields/length-unit'
import { useOpenProject } from '@/ui/open-project'
import { addTexture, addWash, toggleInMask } from '../sheet/layer-actions'
import { endPick, useProofPick } from '../sheet/proof-pick'
import { LayerInspector } from '../sheet/layer-inspector'
import { ProofMarksOverlay } from '../sheet/proof-marks-overlay'
import type { Picking } from '../sheet/use-sheet-actions'
import { LayerHandles } from './layer-handles'
import { DepthRail } from './depth-rail'
import { PageInspector } from './page-inspector'
import { PageLines } from './page-lines'
import { addSheetFrame, addType } from './poster-layers'
import { MockupBench } from './mockup-bench'
import { PosterStage } from './poster-stage'
import { PosterStepStyles } from './poster-step-styles'
import { SeriesStrip } from './series-strip'
import { stackActions } from './stack-actions'
import { SheetFrameSection } from './sheet-frame-section'
import type { Guide } from './snap-block'
import { TypeEditor } from './type-editor'
import { TypeSection } from './type-section'
import { useTypeLayout } from './use-type-layout'
import { useRefusals } from '../sheet/use-refusals'

/** From a sheet to a poster: pages, type, depth. */
export function PosterStep() {
  const project = useOpenProject()
  const at = activeSheet(project)
  const last = useViewStore((s) => s.pageId)
  const isAtWork = isOfPoster(at)
  const before = project.sheets.find((sheet) => sheet.id === last && isOfPoster(sheet))
  const target = isAtWork ? at : (before ?? project.sheets.find((sheet) => sheet.page))
  const targetId = target?.id ?? null
  const wanted = useViewStore((s) => s.wantedPageId)
  useEffect(() => {
    if (wanted !== null) {
      setBench({ wantedPageId: null })
      goToPage(wanted)
      return
    }
    if (!isAtWork && targetId !== null) goToPage(targetId)
    if (isAtWork) setBench({ pageId: targetId })
  }, [isAtWork, targetId, wanted])
  if (isAtWork) return at.page ? <PageAtWork page={at} /> : <MockupBench sheet={at} />
  if (target) return null
  return <NoPoster />
}

/** What this step is for, before there is a poster. */
function NoPoster() {
  const project = useOpenProject()
  const hasLayers = project.sheets.some((sheet) => sheet.roots.length > 0)
  return (
    <div className="empty">
      <PosterStepStyles />
      <h2 className="display">No poster yet</h2>
      <p>
        A poster takes a sheet to paper: type that stands among the parts of the shot, a frame, ink and grain,
        in as many formats as you need. What you change in the sheet later is changed here at once.
      </p>
      <Button variant="contained" onClick={() => addPoster(FIRST_PAPER)} data-testid="begin-poster">
        Begin a poster of the sheet at work
      </Button>
      {!hasLayers && (
        <p className="quiet">
          Its sheet is still empty: <Link href={`/project/${project.id}/sheet`}>hang layers first</Link>.
        </p>
      )}
    </div>
  )
}

const LEAST_BLOCK = 1e-4

/** Blocks under a place of the page, the front first. */
function blocksAt(page: ProjectSheet, x: number, y: number): SheetNode[] {
  return layersOf(page)
    .filter(({ content, visible }) => {
      if (!visible || (content.kind !== 'type' && content.kind !== 'sheet')) return false
      const [left, top, width, height] = content.box
      return x >= left && x <= left + width && y >= top && y <= top + height && width > LEAST_BLOCK
    })
    .reverse()
}

function PageAtWork({ page }: { readonly page: ProjectSheet }) {
  const project = useOpenProject()
  const { enqueueSnackbar } = useSnackbar()
  const layerId = useViewStore((s) => s.layerId)
  const seenAs = useViewStore((s) => s.seenAs)
  const isProofed = useViewStore((s) => s.isProofed)
  const layer = layerId === null ? undefined : (page.nodes[layerId] as SheetNode | undefined)
  const [isEditing, setEditing] = useState(false)
  const [isSquinting, setSquinting] = useState(false)
  const [guides, setGuides] = useState<readonly Guide[]>([])
  const [isGridSeen, setGridSeen] = useState(false)
  const [picking, setPicking] = useState<Picking>(null)
  const inputRef = useRef<HTMLInputElement>(null)
  const own = pageOf(page)
  const plateId = useViewStore((s) => s.plateId)
  const ink = own.inks?.on ? own.inks.list.find(({ id }) => id === plateId) : undefined
  const plate = ink ? plateOf(page, ink.id) : null
  const type = layer?.content.kind === 'type' ? layer.content : null
  const set = useTypeLayout(project, type ? (layer?.id ?? null) : null, type, `${page.width} ${page.height}`)
  const edit = useCallback(() => setEditing(true), [])
  const edited = isEditing && type && layer && set ? { layer, type, set } : null
  useRefusals()
  const addText = () => {
    if (addType() !== null) setEditing(true)
  }
  const choose = (id: string | null) => {
    setEditing(false)
    setBench({ layerId: id })
  }
  const waiting = useProofPick((s) => s.pick)
  const pickPart = async (x: number, y: number) => {
    if (!picking || !layer) return
    const found = await askSheet(project, (worker) =>
      worker.pick(page.shotId, paintedSheet(project, page), x, y),
    )
    if (!found.hasIdPass)
      enqueueSnackbar('Render the ID pass first: masks and picking are made from it.', { variant: 'warning' })
    const { part, material, groups } = found.surface ?? {}
    const key = picking === 'parts' ? part : picking === 'materials' ? material : groups?.at(-1)
    if (key !== undefined) toggleInMask(layer.id, picking, key)
  }
  /** @param goesOn to what lies beneath the one at work. */
  const pick = (x: number, y: number, goesOn = false) => {
    if (waiting) {
      endPick()
      waiting.take(x, y)
      return
    }
    if (picking) {
      void pickPart(x, y)
      return
    }
    const found = blocksAt(page, x, y)
    const at = goesOn ? found.findIndex(({ id }) => id === layerId) : -1
    const next = found[(at + 1) % Math.max(1, found.length)]?.id ?? null
    if (next !== layerId) choose(next)
  }
  useActions('Poster', [
    { id: 'text', label: 'Add type', keys: 't', run: addText },
    { id: 'frame', label: 'Add a sheet in a frame', run: () => addSheetFrame() },
    { id: 'picture', label: 'Add a picture', run: () => inputRef.current?.click() },
    { id: 'mockup', label: 'Show it on paper', keys: 'm', run: addMockup },
    {
      id: 'grid',
      label: isGridSeen ? 'Hide margins and columns' : 'Show margins and columns',
      keys: 'g',
      run: () => setGridSeen(!isGridSeen),
    },
    { id: 'squint', label: 'Squint', keys: 's', run: () => setSquinting(!isSquinting) },
    {
      id: 'thumbnail',
      label: 'See it as a thumbnail',
      run: () => setBench({ seenAs: seenAs === 'afar' ? 'plain' : 'afar' }),
    },
    {
      id: 'page',
      label: 'Choose the page',
      keys: 'Escape',
      run: () => {
        if (waiting) endPick()
        else if (picking) setPicking(null)
        else choose(null)
      },
    },
    ...(layer
      ? [{ id: 'edit', label: `Edit ${layer.name}`, keys: 'Enter', run: () => setEditing(true) }]
      : []),
    ...stackActions(page, layer, choose),
  ])
  const perPx = inUnit(MM_PER_INCH / own.dpi, own)
  const lengths = { unit: own.unit, perPx, step: own.unit === 'mm' ? 0.05 : own.unit === 'in' ? 0.002 : 0.5 }
  return (
    <div className="poster-step">
      <PosterStepStyles />
      <SeriesStrip project={project} at={page} isSquinting={isSquinting} onSquint={setSquinting} />
      <PosterStage
        project={project}
        sheet={page}
        label="Page"
        inputRef={inputRef}
        isSquinting={isSquinting}
        seen={plate}
        onPick={(x, y) => pick(x, y)}
        status={
          <>
            <span>
              {sizeInWords(own)}, {Math.round(own.dpi)} dpi
              {own.bleedMm > 0 && `, bleed ${Number(inUnit(own.bleedMm, own).toFixed(2))} ${own.unit}`}
            </span>
            <button
              className="link"
              style={{ color: 'inherit' }}
              aria-pressed={isGridSeen}
              onClick={() => setGridSeen(!isGridSeen)}
            >
              {isGridSeen ? 'Hide margins' : 'Margins'}
            </button>
            {ink && <span>plate of {ink.name}</span>}
            {isProofed && <span>soft proof</span>}
          </>
        }
      >
        <PageLines
          page={own}
          width={page.width}
          height={page.height}
          guides={guides}
          isGridSeen={isGridSeen}
        />
        {layer && !edited && !picking && !waiting && (
          <LayerHandles
            layer={layer}
            page={page}
            onGuides={setGuides}
            onEdit={() => setEditing(true)}
            onPress={pick}
          />
        )}
        {layer && !edited && <ProofMarksOverlay width={page.width} height={page.height} />}
        {edited && (
          <TypeEditor
            key={edited.layer.id}
            layerId={edited.layer.id}
            content={edited.type}
            set={edited.set}
            sheet={page}
            onEnd={() => setEditing(false)}
          />
        )}
      </PosterStage>
      <DepthRail project={project} page={page} layer={layer} />
      <aside className="inspector" aria-label="Inspector">
        <LengthUnitProvider value={lengths}>
          {layer ? (
            <>
              <button
                className="link"
                style={{ paddingLeft: 0 }}
                onClick={() => choose(null)}
                data-testid="to-page"
              >
                All of {page.name}
              </button>
              <LayerInspector
                project={project}
                layer={layer}
                picking={picking}
                setPicking={setPicking}
                own={
                  layer.content.kind === 'type' ? (
                    <TypeSection
                      project={project}
                      layer={layer}
                      content={layer.content}
                      set={set}
                      onEdit={edit}
                    />
                  ) : layer.content.kind === 'sheet' ? (
                    <SheetFrameSection
                      project={project}
                      page={page}
                      layerId={layer.id}
                      content={layer.content}
                    />
                  ) : null
                }
              />
            </>
          ) : (
            <PageInspector project={project} page={page} />
          )}
        </LengthUnitProvider>
        <div className="poster-add">
          <Button variant="outlined" size="small" onClick={addText} data-testid="add-type">
            Text
          </Button>
          <Button variant="outlined" size="small" onClick={() => inputRef.current?.click()}>
            Picture
          </Button>
          <Button variant="outlined" size="small" onClick={() => addSheetFrame()}>
            Sheet
          </Button>
          <Button variant="outlined" size="small" onClick={addTexture}>
            Texture
          </Button>
          <Button variant="outlined" size="small" onClick={() => addWash()}>
            Wash
          </Button>
        </div>
      </aside>
    </div>
  )
}
