'use client'

import { memo, useId } from 'react'
import { paramDefaults, type ParamValues } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import type { ProjectPass } from '@/data/project-schema'
import { useProjectStore } from '@/state/project-store'
import { sceneTraits } from '@/state/scene-traits'
import { ParamsInspector } from '@/ui/params-inspector'
import { SelectRow } from '@/ui/select-row'
import { changeLayer } from './layer-actions'

interface LookSectionProps {
  readonly layerId: string
  readonly pass: ProjectPass
  readonly look: ParamValues
}

const same = (a: ParamValues, b: ParamValues): boolean =>
  Object.keys(b).every((name) => a[name] === undefined || a[name] === b[name])

/** What a pass layer looks like: a ready look to begin with, and every parameter of its own. */
export const LookSection = memo(function LookSection({ layerId, pass, look }: LookSectionProps) {
  const id = useId()
  const { lookSchema, readyLooks } = passKind(pass.kind)
  const full: ParamValues = { ...paramDefaults(lookSchema), ...look }
  const ready = Object.entries(readyLooks)
  const current = ready.find(([, { look: own }]) => same(full, own))?.[0] ?? ''
  const models = useProjectStore((s) => s.project?.models)
  const idle = passKind(pass.kind).idleLook(full, {
    rendered: pass.rendered?.params ?? pass.params,
    facts: pass.rendered?.facts ?? {},
    scene: sceneTraits({ models: models ?? [] }),
  })
  const setLook = (label: string, next: ParamValues, merge?: string) =>
    changeLayer(
      layerId,
      label,
      (l) => {
        if (l.content.kind === 'pass') l.content.look = { ...next }
      },
      merge,
    )
  return (
    <section className="section">
      <div className="section-head">
        <span>Look</span>
        <span className="quiet">live, no render</span>
      </div>
      {ready.length > 0 && (
        <SelectRow
          id={id}
          label="Style"
          value={current}
          onChange={(picked) => {
            const chosen = readyLooks[picked]
            if (chosen) setLook(`${chosen.label.toLowerCase()} style`, chosen.look)
          }}
        >
          {current === '' && <option value="">Its own</option>}
          {ready.map(([name, { label }]) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </SelectRow>
      )}
      <ParamsInspector
        schema={lookSchema}
        values={look}
        idle={idle}
        onChange={(name, value, label) =>
          setLook(label.toLowerCase(), { ...look, [name]: value }, `look ${name}`)
        }
      />
    </section>
  )
})
