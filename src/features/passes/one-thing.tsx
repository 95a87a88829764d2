'use client'

import { useEffect, useId, useState } from 'react'
import { useRouter } from 'next/navigation'
import Button from '@mui/material/Button'
import { toHex } from '@/core/math/colour'
import { plural } from '@/core/plural'
import { activePasses } from '@/data/active-shot'
import { comparedPasses } from '@/data/before-passes'
import type { Project, ProjectMaterial } from '@/data/project-schema'
import { setColour } from '@/state/material-actions'
import { letGoOfBefore, passesShowing, renderThingAgain, swapBefore, type Showing } from '@/state/one-thing'
import { addPass } from '@/state/pass-actions'
import { nothingToRender } from '@/state/render-check'
import { queueRender, useRenderQueue } from '@/state/render-queue'
import { setBench } from '@/state/view-store'
import { ColourRow } from '@/ui/colour-row'
import { SelectRow } from '@/ui/select-row'
import { MaterialFields, rgbOf } from '../models/material-fields'
import { OneThingStyles } from './one-thing-styles'

interface OneThingProps {
  readonly project: Project
  /** The pass that is compared with what it was; null: none. */
  readonly comparedId: string | null
  readonly onCompare: (passId: string | null) => void
  readonly onBack: () => void
}

/** Everything that was changed since it was rendered, else the first: what one comes for is mostly changed already. */
function firstMaterial(project: Project): string {
  const all = project.models.flatMap((model) => model.materials)
  const changed = all.find(({ key }) => passesShowing(project, key).some(({ state }) => state === 'changed'))
  return (changed ?? all.at(0))?.key ?? ''
}

/** One material again: changed, rendered where it shows, compared with what was, and left in its place. */
export function OneThing({ project, comparedId, onCompare, onBack }: OneThingProps) {
  const id = useId()
  const router = useRouter()
  const [partKey, setPartKey] = useState('')
  const [key, setKey] = useState(() => firstMaterial(project))
  const isBusy = useRenderQueue((s) => s.jobs.some((job) => job.projectId === project.id))
  const models = project.models.map((model) => {
    const parts = model.parts.filter(({ polygons }) => polygons > 0)
    const worn = new Set(
      parts.filter((part) => partKey === '' || part.key === partKey).flatMap((part) => part.materials),
    )
    return { model, parts, materials: model.materials.filter((_, i) => worn.has(i)) }
  })
  const material = models.flatMap((own) => own.materials).find((own) => own.key === key)
  const showing = material ? passesShowing(project, material.key) : []
  const stale = showing.filter(({ state }) => state !== 'as it is')
  const compared = comparedPasses(project)
  const choosePart = (wanted: string) => {
    setPartKey(wanted)
    if (wanted === '') return
    for (const { model, parts } of models) {
      const worn = parts.find((part) => part.key === wanted)?.materials.at(0)
      if (worn !== undefined) setKey(model.materials[worn].key)
    }
  }
  // What was rendered again is looked at beside what it was.
  const [first] = compared
  const newest = isBusy ? null : (first?.id ?? null)
  useEffect(() => {
    if (newest) onCompare(newest)
  }, [newest, onCompare])
  return (
    <div data-testid="one-thing">
      <OneThingStyles />
      <div className="inspector-head">
        <h2 className="display">One thing again</h2>
        <button className="link" onClick={onBack} data-testid="one-thing-back">
          All passes
        </button>
      </div>
      <p className="quiet" style={{ marginTop: 0 }}>
        Change one material; what shows it is rendered again and lies in its place. The rest stays, pixel for
        pixel.
      </p>
      <section className="section">
        <SelectRow
          id={`${id}-part`}
          label="Of the part"
          value={partKey}
          onChange={choosePart}
          testId="one-part"
        >
          <option value="">Any part</option>
          {models.map(({ model, parts }) => (
            <optgroup key={model.id} label={model.name}>
              {parts.map((part) => (
                <option key={part.key} value={part.key}>
                  {part.name}
                </option>
              ))}
            </optgroup>
          ))}
        </SelectRow>
        <SelectRow id={`${id}-material`} label="Material" value={key} onChange={setKey} testId="one-material">
          {models
            .filter(({ materials }) => materials.length > 0)
            .map(({ model, materials }) => (
              <optgroup key={model.id} label={model.name}>
                {materials.map((own) => (
                  <option key={own.key} value={own.key}>
                    {own.name}
                  </option>
                ))}
              </optgroup>
            ))}
        </SelectRow>
        {material && <Fields id={id} material={material} />}
      </section>
      <section className="section" aria-label="Shown by">
        <div className="section-head">
          <span>Shown by</span>
          <span className="quiet">{plural(showing.length, 'rendered pass', 'rendered passes')}</span>
        </div>
        {showing.length === 0 ? (
          <NothingShown project={project} isBusy={isBusy} />
        ) : (
          <ul className="shown-by" data-testid="shown-by">
            {showing.map((own) => (
              <li key={own.pass.id}>
                <span className="ellipsis">{own.pass.name}</span>
                <span className="quiet">{wordsOf(own)}</span>
              </li>
            ))}
          </ul>
        )}
        <Button
          variant="contained"
          fullWidth
          disabled={stale.length === 0 || isBusy}
          onClick={() => renderThingAgain(stale.map(({ pass }) => pass))}
          data-testid="render-one-thing"
        >
          {stale.length === 0
            ? 'Nothing of it changed'
            : `Render ${plural(stale.length, 'pass', 'passes')} again`}
        </Button>
      </section>
      {compared.length > 0 && (
        <section className="section" aria-label="Before and now">
          <div className="section-head">Before and now</div>
          <SelectRow
            id={`${id}-compared`}
            label="Compare"
            value={comparedId ?? ''}
            onChange={(own) => onCompare(own === '' ? null : own)}
            testId="one-compare"
          >
            <option value="">Nothing</option>
            {compared.map((pass) => (
              <option key={pass.id} value={pass.id}>
                {pass.name}
              </option>
            ))}
          </SelectRow>
          <div className="one-thing-press">
            <Button
              variant="outlined"
              size="small"
              onClick={() => {
                setBench({ seam: 0.5, compareLeft: 'before', compareRight: 'now' })
                router.push(`/project/${project.id}/sheet`)
              }}
              data-testid="compare-on-sheet"
            >
              On the sheet
            </Button>
            <Button
              variant="outlined"
              size="small"
              onClick={swapBefore}
              disabled={isBusy}
              data-testid="swap-before"
            >
              Change places
            </Button>
            <Button
              variant="outlined"
              size="small"
              disabled={isBusy}
              onClick={() => void letGoOfBefore()}
              data-testid="let-go-before"
            >
              Keep what is now
            </Button>
            <Button
              variant="outlined"
              size="small"
              onClick={() => {
                setBench({ batch: 'changed' })
                router.push(`/project/${project.id}/export`)
              }}
              data-testid="write-changed"
            >
              Its files again
            </Button>
          </div>
        </section>
      )}
    </div>
  )
}

/** Where no rendered pass shows materials: what would. */
function NothingShown({ project, isBusy }: { readonly project: Project; readonly isBusy: boolean }) {
  const lit = activePasses(project).find(({ kind }) => kind === 'lit')
  const render = () => {
    const id = lit?.id ?? addPass('lit')
    if (id) queueRender([id], 'good')
  }
  return (
    <>
      <p className="quiet">
        {lit?.rendered
          ? 'It is nowhere in the picture of this shot.'
          : 'Passes of form alone stay as they are, whatever its colour. A lit pass shows it.'}
      </p>
      {!lit?.rendered && (
        <Button
          variant="outlined"
          fullWidth
          sx={{ marginBottom: 1 }}
          disabled={isBusy || nothingToRender(project) !== null}
          onClick={render}
          data-testid="render-lit"
        >
          {lit ? `Render ${lit.name}, good` : 'Add a lit pass and render it'}
        </Button>
      )}
    </>
  )
}

function Fields({ id, material }: { readonly id: string; readonly material: ProjectMaterial }) {
  return (
    <>
      <ColourRow
        id={`${id}-colour`}
        label="Colour"
        value={toHex(material.baseColour)}
        onChange={(colour) => setColour(material.key, rgbOf(colour))}
      />
      <MaterialFields material={material} />
    </>
  )
}

/** How much of a pass shows the material, and how it stands. */
function wordsOf({ share, state }: Showing): string {
  const part = share === null ? 'all of it' : `${Math.max(1, Math.round(100 * share))} % of it`
  if (state === 'as it is') return share === null ? 'as it is' : `${part}, as it is`
  return state === 'changed' ? `${part} changed` : 'more than this changed: all of it'
}
