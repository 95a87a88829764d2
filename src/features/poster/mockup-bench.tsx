'use client'

import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { hasContent, type SheetNode } from '@/core/sheet/sheet-schema'
import { layersOf } from '@/core/sheet/sheet-tree'
import { pagesOf } from '@/data/poster-series'
import type { ProjectSheet } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { goToPage } from '@/state/poster-actions'
import { askSheet } from '@/state/sheet-sync'
import { setBench, useViewStore } from '@/state/view-store'
import { useOpenProject } from '@/ui/open-project'
import { FillHandles } from '../sheet/fill-handles'
import { addTexture, addWash, changeContent } from '../sheet/layer-actions'
import { LayerInspector } from '../sheet/layer-inspector'
import { PictureHandles } from '../sheet/picture-handles'
import { ProofMarksOverlay } from '../sheet/proof-marks-overlay'
import { endPick, useProofPick, waitForPick } from '../sheet/proof-pick'
import { FittedHandles } from './fitted-handles'
import { LookAround } from './look-around'
import { MockupInspector } from './mockup-inspector'
import { FittedSection, MockupSection } from './mockup-section'
import { addPrinted } from './poster-layers'
import { PosterStage } from './poster-stage'
import { PosterStepStyles } from './poster-step-styles'
import { SeriesStrip } from './series-strip'
import { stackActions } from './stack-actions'
import { StandStrip } from './stand-strip'
import { useRefusals } from '../sheet/use-refusals'

/** A poster as it would hang: its page on paper, in a rendered place or in a picture of one's own. */
export function MockupBench({ sheet }: { readonly sheet: ProjectSheet }) {
  const project = useOpenProject()
  const layerId = useViewStore((s) => s.layerId)
  const chosen = layerId === null ? undefined : (sheet.nodes[layerId] as SheetNode | undefined)
  const [isSquinting, setSquinting] = useState(false)
  const inputRef = useRef<HTMLInputElement>(null)
  const waiting = useProofPick((s) => s.pick)
  // What stands on paper is at hand, whatever is chosen.
  const onPaper = chosen ?? layersOf(sheet).find((layer) => layer.content.kind === 'mockup')
  const mockup = onPaper && hasContent(onPaper, 'mockup') ? onPaper : null
  useRefusals()
  const choose = (id: string | null) => setBench({ layerId: id })
  const measure = (layer: SheetNode) =>
    waitForPick({
      id: `white ${layer.id}`,
      label: 'a bare, evenly lit place of the surface',
      take: (x, y) => {
        const [px, py] = [Math.floor(x * sheet.width), Math.floor(y * sheet.height)]
        void askSheet(project, (worker) => worker.contributions(px, py)).then((found) => {
          const own = found?.layers.find(({ nodeId }) => nodeId === layer.id)
          if (!own || own.before[3] === 0) {
            setBench({
              refusal: 'Nothing lies beneath it there: press a place of the picture it is fitted into.',
            })
            return
          }
          const [r, g, b] = own.before
          const white = Math.min(1, Math.max(0.02, 0.3 * r + 0.59 * g + 0.11 * b))
          changeContent(layer.id, 'fitted', 'measure the surface', (content) => void (content.white = white))
        })
      },
    })
  const pick = (x: number, y: number) => {
    if (waiting) {
      endPick()
      waiting.take(x, y)
    } else if (mockup) choose(layerId === mockup.id ? null : mockup.id)
  }
  useActions('Mock-up', [
    { id: 'picture', label: 'Add a picture', run: () => inputRef.current?.click() },
    { id: 'printed', label: 'Fit the page into a picture', run: () => addPrinted('fitted') },
    { id: 'paper', label: 'Put the page on paper', run: () => addPrinted('mockup') },
    { id: 'squint', label: 'Squint', keys: 's', run: () => setSquinting(!isSquinting) },
    {
      id: 'all',
      label: 'Choose the mock-up',
      keys: 'Escape',
      run: () => {
        if (waiting) endPick()
        else choose(null)
      },
    },
    {
      id: 'page',
      label: 'Go to its page',
      keys: 'm',
      run: () => {
        const [page] = pagesOf(project, sheet.mockupOf ?? '')
        if (page) goToPage(page.id)
      },
    },
    ...stackActions(sheet, chosen, choose),
  ])
  return (
    <div className="poster-step">
      <PosterStepStyles />
      <SeriesStrip project={project} at={sheet} isSquinting={isSquinting} onSquint={setSquinting} />
      <PosterStage
        project={project}
        sheet={sheet}
        label="Mock-up"
        inputRef={inputRef}
        isSquinting={isSquinting}
        onPick={pick}
        status={waiting && <span>Press {waiting.label}</span>}
      >
        {mockup && !waiting && (!chosen || chosen === mockup) && (
          <LookAround layerId={mockup.id} name={mockup.name} content={mockup.content} sheet={sheet} />
        )}
        {chosen && !waiting && hasContent(chosen, 'fitted') && (
          <FittedHandles layerId={chosen.id} content={chosen.content} sheet={sheet} />
        )}
        {chosen?.content.kind === 'fill' && (
          <FillHandles layerId={chosen.id} content={chosen.content} sheet={sheet} />
        )}
        {chosen?.content.kind === 'picture' && (
          <PictureHandles layerId={chosen.id} content={chosen.content} sheet={sheet} />
        )}
        {chosen && <ProofMarksOverlay width={sheet.width} height={sheet.height} />}
      </PosterStage>
      {mockup && <StandStrip layerId={mockup.id} name={mockup.name} content={mockup.content} />}
      <aside className="inspector" aria-label="Inspector">
        {chosen ? (
          <>
            <button
              className="link"
              style={{ paddingLeft: 0 }}
              onClick={() => choose(null)}
              data-testid="to-mockup"
            >
              All of {sheet.name}
            </button>
            <LayerInspector
              project={project}
              layer={chosen}
              picking={null}
              own={
                hasContent(chosen, 'mockup') ? (
                  <MockupSection
                    project={project}
                    sheet={sheet}
                    layerId={chosen.id}
                    content={chosen.content}
                  />
                ) : hasContent(chosen, 'fitted') ? (
                  <FittedSection
                    project={project}
                    sheet={sheet}
                    layerId={chosen.id}
                    content={chosen.content}
                    onMeasure={() => measure(chosen)}
                  />
                ) : null
              }
            />
          </>
        ) : (
          <MockupInspector project={project} sheet={sheet} />
        )}
        <div className="poster-add">
          <Button variant="outlined" size="small" onClick={() => addPrinted('mockup')}>
            On paper
          </Button>
          <Button variant="outlined" size="small" onClick={() => addPrinted('fitted')}>
            In a picture
          </Button>
          <Button variant="outlined" size="small" onClick={() => inputRef.current?.click()}>
            Picture
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
