'use client'

import { useState } from 'react'
import { toHex, type Rgb } from '@/core/math/colour'
import type { Project, ProjectMaterial } from '@/data/project-schema'
import {
  addScheme,
  matchPalette,
  removePalette,
  removeScheme,
  renameScheme,
  restoreColours,
  setColour,
  shufflePalette,
  takePalette,
  useScheme as goToScheme,
} from '@/state/material-actions'
import { setBench, useViewStore } from '@/state/view-store'
import { onRovingKey } from '@/ui/roving-keys'
import { MaterialFields, rgbOf } from './material-fields'
import { MaterialsPanelStyles } from './materials-panel-styles'

/** Colours taken of a picture at once. */
const PALETTE_SIZES = [4, 6, 8, 12] as const

/** All materials of the project: colours, palettes to take them from, schemes to keep them in. */
export function MaterialsPanel({ project, onPin }: { project: Project; onPin: () => void }) {
  const keys = useViewStore((s) => s.partKeys)
  const [openKey, setOpenKey] = useState<string | null>(null)
  const worn = new Set(
    project.models.flatMap((model) =>
      model.parts
        .filter((part) => keys.includes(part.key))
        .flatMap((part) => part.materials.map((m) => model.materials[m].key)),
    ),
  )
  const models = project.models
    .map((model) => ({
      model,
      materials: model.materials.filter((m) => worn.size === 0 || worn.has(m.key)),
    }))
    .filter(({ materials }) => materials.length > 0)
  return (
    <>
      <MaterialsPanelStyles />
      <Schemes project={project} />
      <Palettes project={project} onPin={onPin} />
      <section className="section">
        <div className="section-head">
          <span>{worn.size > 0 ? 'Of the chosen parts' : 'Materials'}</span>
          <button className="link" onClick={restoreColours}>
            As the files had them
          </button>
        </div>
        {models.map(({ model, materials }) => (
          <div key={model.id}>
            {models.length > 1 && <div className="quiet small-head">{model.name}</div>}
            {materials.map((material) => (
              <MaterialRow
                key={material.key}
                material={material}
                isOpen={openKey === material.key}
                onOpen={() => setOpenKey(openKey === material.key ? null : material.key)}
                onChooseParts={() => {
                  const index = model.materials.indexOf(material)
                  setBench({
                    partKeys: model.parts.filter((p) => p.materials.includes(index)).map((p) => p.key),
                  })
                }}
              />
            ))}
          </div>
        ))}
      </section>
    </>
  )
}

interface MaterialRowProps {
  readonly material: ProjectMaterial
  readonly isOpen: boolean
  readonly onOpen: () => void
  readonly onChooseParts: () => void
}

function MaterialRow({ material, isOpen, onOpen, onChooseParts }: MaterialRowProps) {
  return (
    <div className={`material ${isOpen ? 'open' : ''}`}>
      <div className="material-head">
        <input
          type="color"
          className="swatch"
          aria-label={`Colour of ${material.name}`}
          value={toHex(material.baseColour)}
          onChange={(e) => setColour(material.key, rgbOf(e.target.value))}
        />
        <button className="material-name" aria-expanded={isOpen} title={material.name} onClick={onOpen}>
          {material.name}
        </button>
        <button className="link" onClick={onChooseParts} title="Choose the parts that wear it">
          Parts
        </button>
      </div>
      {isOpen && <MaterialFields material={material} />}
    </div>
  )
}

function Schemes({ project }: { project: Project }) {
  const { schemes, schemeId } = project
  const scheme = schemes.find((s) => s.id === schemeId)
  return (
    <section className="section">
      <div className="section-head">
        <span>Scheme</span>
        <button className="link" onClick={addScheme} data-testid="add-scheme">
          New scheme
        </button>
      </div>
      {schemes.length === 0 ? (
        <p className="quiet">Keep several ways to colour everything, and switch between them.</p>
      ) : (
        <>
          <div className="pills" role="radiogroup" aria-label="Scheme" onKeyDown={onRovingKey}>
            {schemes.map((s) => (
              <button
                key={s.id}
                className="pill"
                role="radio"
                aria-checked={s.id === schemeId}
                tabIndex={s.id === (schemeId ?? schemes[0].id) ? 0 : -1}
                onClick={() => goToScheme(s.id)}
              >
                {s.name}
              </button>
            ))}
          </div>
          {scheme && (
            <div className="row two">
              <input
                className="plain-text"
                aria-label="Name of the scheme"
                value={scheme.name}
                onChange={(e) => renameScheme(scheme.id, e.target.value)}
              />
              <button className="link" onClick={() => removeScheme(scheme.id)}>
                Remove
              </button>
            </div>
          )}
        </>
      )}
    </section>
  )
}

function Palettes({ project, onPin }: { project: Project; onPin: () => void }) {
  const [count, setCount] = useState<number>(6)
  const [problem, setProblem] = useState<string | null>(null)
  const { palettes, references } = project
  const keys = useViewStore((s) => s.partKeys)
  const take = async (id: string) => {
    const reference = references.find((r) => r.id === id)
    if (!reference) return
    setProblem(null)
    try {
      await takePalette(reference, count)
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error))
    }
  }
  /** Gives a colour to every material of the chosen parts. */
  const give = (colour: Rgb) => {
    for (const model of project.models) {
      const worn = new Set(model.parts.filter((p) => keys.includes(p.key)).flatMap((p) => p.materials))
      for (const m of worn) setColour(model.materials[m].key, colour)
    }
  }
  return (
    <section className="section">
      <div className="section-head">
        <span>Palettes</span>
        {references.length === 0 ? (
          <button className="link" onClick={onPin}>
            Pin a picture
          </button>
        ) : (
          <span>
            <select
              className="plain-select"
              aria-label="How many colours"
              value={count}
              onChange={(e) => setCount(Number(e.target.value))}
            >
              {PALETTE_SIZES.map((n) => (
                <option key={n} value={n}>
                  {n} colours
                </option>
              ))}
            </select>{' '}
            <select
              className="plain-select"
              aria-label="Take a palette of a reference"
              value=""
              onChange={(e) => void take(e.target.value)}
              style={{ maxWidth: 104 }}
              data-testid="take-palette"
            >
              <option value="">Take from …</option>
              {references.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.name}
                </option>
              ))}
            </select>
          </span>
        )}
      </div>
      {problem && (
        <div className="problem" role="alert">
          {problem}
        </div>
      )}
      {palettes.length === 0 && (
        <p className="quiet">Take colours of a reference picture and give them to the materials.</p>
      )}
      {palettes.map((palette) => (
        <div className="palette" key={palette.id}>
          <div className="palette-colours" role="group" aria-label={`Palette ${palette.name}`}>
            {palette.colours.map((colour, i) => (
              <button
                key={i}
                style={{ background: toHex(colour) }}
                aria-label={`Give ${toHex(colour)} to the chosen parts`}
                title={keys.length > 0 ? 'Give it to the chosen parts' : 'Choose parts first'}
                disabled={keys.length === 0}
                onClick={() => give(colour)}
              />
            ))}
          </div>
          <div className="palette-foot">
            <span className="ellipsis" title={palette.name}>
              {palette.name}
            </span>
            <button className="link" onClick={() => matchPalette(palette.id)}>
              Match
            </button>
            <button className="link" onClick={() => shufflePalette(palette.id)}>
              Shuffle
            </button>
            <button
              className="icon-button"
              aria-label={`Remove palette ${palette.name}`}
              onClick={() => removePalette(palette.id)}
            >
              ×
            </button>
          </div>
        </div>
      ))}
    </section>
  )
}
