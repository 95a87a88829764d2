'use client'

import type { Project } from '@/data/project-schema'
import { changeProject, useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import { NumberField } from '@/ui/number-field'
import { toHex } from '@/core/math/colour'

/** What is known of the chosen parts' model, and where it stands. */
export function ModelInspector() {
  const project = useProjectStore((s) => s.project) as Project
  const keys = useViewStore((s) => s.partKeys)
  const model = project.models.find((m) => m.parts.some((p) => keys.includes(p.key))) ?? project.models[0]
  if (!model) {
    return (
      <aside className="inspector" aria-label="Inspector">
        <h2 className="display">Nothing yet</h2>
        <p className="quiet">
          What you bring in is described here: parts, polygons, materials, and anything that had to be
          repaired.
        </p>
      </aside>
    )
  }
  const change = (label: string, name: string, apply: (m: Project['models'][number]) => void) =>
    changeProject(
      label,
      (draft) => {
        const found = draft.models.find((m) => m.id === model.id)
        if (found) apply(found as Project['models'][number])
      },
      `${model.id} ${name}`,
    )
  const place = model.placement
  const axis = (index: 0 | 1 | 2, label: string) => (
    <NumberField
      label={label}
      value={place.position[index]}
      min={-100}
      max={100}
      step={0.01}
      defaultValue={0}
      onChange={(v) =>
        change('move model', `position ${index}`, (m) => void (m.placement.position[index] = v))
      }
    />
  )
  return (
    <aside className="inspector" aria-label="Inspector">
      <div className="inspector-head">
        <h2 className="display">{model.name}</h2>
        <span className="quiet">model</span>
      </div>
      <section className="section">
        <div className="section-head">Polygons</div>
        {(
          [
            ['Triangles', model.polygons[3]],
            ['Quads', model.polygons[4]],
            ['More sides', model.polygons.more],
          ] as const
        ).map(([label, count]) => (
          <div className="row" key={label}>
            <span className="label">{label}</span>
            <span />
            <b>{count.toLocaleString('en')}</b>
          </div>
        ))}
      </section>
      <section className="section">
        <div className="section-head">Place</div>
        {axis(0, 'X')}
        {axis(1, 'Y')}
        {axis(2, 'Z')}
        <NumberField
          label="Turn"
          value={place.turnDeg}
          min={-180}
          max={180}
          step={1}
          unit="°"
          defaultValue={0}
          onChange={(v) => change('turn model', 'turn', (m) => void (m.placement.turnDeg = v))}
        />
        <NumberField
          label="Scale"
          value={place.scale}
          min={0.001}
          max={1000}
          step={0.001}
          unit="×"
          defaultValue={1}
          logarithmic
          onChange={(v) => change('scale model', 'scale', (m) => void (m.placement.scale = v))}
        />
      </section>
      {model.warnings.length > 0 && (
        <section className="section">
          <div className="section-head">Repaired on the way in</div>
          {model.warnings.map((w) => (
            <p key={w.code + w.part + w.message} style={{ margin: '4px 0' }}>
              {w.part && <b>{w.part}: </b>}
              {w.message}
            </p>
          ))}
        </section>
      )}
      <section className="section">
        <div className="section-head">Materials</div>
        {model.materials.map((material, index) => (
          <div className="row" key={material.key} style={{ gridTemplateColumns: '30px 1fr auto' }}>
            <input
              type="color"
              className="swatch"
              aria-label={`Colour of ${material.name}`}
              value={toHex(material.baseColour)}
              onChange={(e) => {
                const hex = e.target.value
                const at = (i: number) => parseInt(hex.slice(i, i + 2), 16) / 255
                change(
                  'material colour',
                  `material ${index}`,
                  (m) => void (m.materials[index].baseColour = [at(1), at(3), at(5)]),
                )
              }}
            />
            <span className="label" title={material.name}>
              {material.name}
            </span>
            <button
              className="link"
              onClick={() =>
                setBench({
                  partKeys: model.parts.filter((p) => p.materials.includes(index)).map((p) => p.key),
                })
              }
            >
              Choose parts
            </button>
          </div>
        ))}
      </section>
      <section className="section">
        <button
          className="link"
          onClick={() =>
            changeProject(
              `remove ${model.name}`,
              (draft) => void (draft.models = draft.models.filter((m) => m.id !== model.id)),
            )
          }
        >
          Remove this model
        </button>
      </section>
    </aside>
  )
}
