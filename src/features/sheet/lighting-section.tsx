'use client'

import { useState } from 'react'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { SurfaceTerm } from '@/core/sheet/terms/registry'
import { rigOfPass } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { addSecondLighting } from '@/state/pass-actions'
import { queueRender } from '@/state/render-queue'
import { SelectRow } from '@/ui/select-row'
import { joinProblem, lightingOf, otherLightings, takeFromLighting } from './join-lighting'

/** What of a clay or lit layer comes from another lighting of its shot. */
export function LightingSection({
  project,
  layer,
}: {
  readonly project: Project
  readonly layer: SheetNode
}) {
  const [fromId, setFromId] = useState<string | null>(null)
  const pass = lightingOf(project, layer)
  // What was taken is a layer of its own, held by its mask: there is nothing to take into it.
  if (!pass || (layer.mask?.terms.length ?? 0) > 0) return null
  const others = otherLightings(project, pass)
  const from = others.find(({ id }) => id === fromId) ?? others[0]
  const problem = from ? joinProblem(project, layer, from) : null
  const lists = [
    { kind: 'materials' as const, label: 'Materials', items: project.models.flatMap((m) => m.materials) },
    {
      kind: 'parts' as const,
      label: 'Parts',
      items: project.models.flatMap((m) => m.parts).filter(({ polygons }) => polygons > 0),
    },
  ]
  const take = (value: string) => {
    const at = value.indexOf(' ')
    if (from && at > 0)
      takeFromLighting(layer, from, value.slice(0, at) as SurfaceTerm['kind'], value.slice(at + 1))
  }
  return (
    <section className="section">
      <div className="section-head">
        <span>Second lighting</span>
        {from ? (
          <span className="quiet">{from.name}</span>
        ) : (
          <button
            className="link"
            data-testid="make-lighting"
            onClick={() => {
              const id = addSecondLighting(pass.id)
              if (id) queueRender([id], pass.rendered?.quality ?? 'draft')
            }}
          >
            Render one
          </button>
        )}
      </div>
      {!from && (
        <p className="quiet" style={{ margin: 0 }}>
          Lit by {rigOfPass(project, pass).name}. Single materials can be taken from another rig.
        </p>
      )}
      {from && others.length > 1 && (
        <SelectRow id="lighting-from" label="From" value={from.id} onChange={setFromId}>
          {others.map((other) => (
            <option key={other.id} value={other.id}>
              {other.name}
            </option>
          ))}
        </SelectRow>
      )}
      {from && (
        <SelectRow
          id="lighting-take"
          label="Take from it"
          testId="lighting-take"
          value=""
          disabled={problem !== null}
          title={problem ?? undefined}
          onChange={take}
        >
          <option value="">{problem ?? 'a material or part'}</option>
          {lists.map(({ kind, label, items }) => (
            <optgroup key={kind} label={label}>
              {items.map(({ key, name }) => (
                <option key={key} value={`${kind} ${key}`}>
                  {name}
                </option>
              ))}
            </optgroup>
          ))}
        </SelectRow>
      )}
    </section>
  )
}
