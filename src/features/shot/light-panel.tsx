'use client'

import { useId, type RefObject } from 'react'
import type { Light } from '@/core/scene/light-rig'
import { LIGHT_KINDS, lightKindLabels } from '@/core/scene/light-rig'
import { READY_RIGS } from '@/core/scene/ready-rigs'
import { linearColour } from '@/core/scene/rendered-light'
import { linearToSrgb, toHex } from '@/core/math/colour'
import { activeShot, rigOf } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { addLight, addRig, changeLight, changeRig, removeRig, useRig as takeRig } from '@/state/rig-actions'
import { setBench, useViewStore } from '@/state/view-store'
import type { ThreeView } from '@/ui/view3d/three-view'
import { SelectRow } from '@/ui/select-row'
import { cameraAzimuth } from './camera-azimuth'
import { LightGlobe } from './light-globe'
import { LightInspector } from './light-inspector'
import type { Pointing } from './pointing'
import { LightPanelStyles } from './light-panel-styles'

interface LightPanelProps {
  readonly project: Project
  readonly viewRef: RefObject<ThreeView | null>
  readonly setPointing: (pointing: Pointing) => void
}

/** The rig of the shot: its lights, where they stand, and what each is. */
export function LightPanel({ project, viewRef, setPointing }: LightPanelProps) {
  const shot = activeShot(project)
  const rig = rigOf(project, shot)
  const rigId = useId()
  const chosenId = useViewStore((s) => s.lightId)
  const chosen = rig.lights.find((light) => light.id === chosenId) ?? rig.lights[0]
  const turnOf = (light: Light) => (light.tied === 'world' ? -cameraAzimuth(project) : 0)
  return (
    <>
      <LightPanelStyles />
      <section className="section">
        <SelectRow
          id={rigId}
          label="Rig"
          value={rig.id}
          testId="rig"
          onChange={(picked) => {
            const value = picked
            if (value === 'copy') addRig(null)
            else if (value.startsWith('ready ')) addRig(READY_RIGS[Number(value.slice(6))])
            else takeRig(value)
          }}
        >
          <optgroup label="In this project">
            {project.rigs.map((r) => (
              <option key={r.id} value={r.id}>
                {r.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="Begin with">
            {READY_RIGS.map((ready, i) => (
              <option key={ready.name} value={`ready ${i}`} title={ready.summary}>
                {ready.name}
              </option>
            ))}
            <option value="copy">A copy of this one</option>
          </optgroup>
        </SelectRow>
        <div className="row">
          <label htmlFor={`${rigId} name`}>Name</label>
          <input
            id={`${rigId} name`}
            className="plain-select wide"
            value={rig.name}
            onChange={(e) => changeRig('rename rig', (r) => void (r.name = e.target.value), 'rig name')}
          />
        </div>
        {project.rigs.length > 1 && (
          <button className="link" onClick={removeRig}>
            Remove this rig
          </button>
        )}
      </section>
      <section className="section">
        <div className="section-head">
          <span>Lights</span>
          <select
            className="plain-select"
            aria-label="Add a light"
            value=""
            onChange={(e) => e.target.value && addLight(e.target.value as Light['kind'])}
            data-testid="add-light"
          >
            <option value="">+ Add</option>
            {LIGHT_KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {lightKindLabels[kind]}
              </option>
            ))}
          </select>
        </div>
        {rig.lights.length === 0 && (
          <p className="quiet">
            No light yet: the passes would be black. Add one, or begin with a ready rig.
          </p>
        )}
        <ul className="light-list" aria-label="Lights of the rig">
          {rig.lights.map((light) => (
            <li
              key={light.id}
              data-chosen={light.id === chosen?.id}
              onClick={() => setBench({ lightId: light.id })}
            >
              <button
                className="icon-button"
                aria-label={light.on ? `Switch ${light.name} off` : `Switch ${light.name} on`}
                onClick={(e) => {
                  e.stopPropagation()
                  changeLight(light.id, light.on ? 'light off' : 'light on', { on: !light.on })
                }}
              >
                <i
                  className="lamp"
                  style={{
                    background: light.on
                      ? toHex(linearColour(light.colour).map((v) => linearToSrgb(v)))
                      : 'transparent',
                  }}
                />
              </button>
              <button
                className="light-row"
                aria-pressed={light.id === chosen?.id}
                onFocus={() => setBench({ lightId: light.id })}
                onKeyDown={(e) => {
                  const by = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
                  if (by === 0) return
                  e.preventDefault()
                  const row = e.currentTarget.closest('li')
                  const next = by > 0 ? row?.nextElementSibling : row?.previousElementSibling
                  next?.querySelector<HTMLElement>('.light-row')?.focus()
                }}
              >
                <span className="name">{light.name}</span>
                <span className="quiet">{lightKindLabels[light.kind].toLowerCase()}</span>
                <b>{light.on ? light.strength.toFixed(2) : 'off'}</b>
              </button>
            </li>
          ))}
        </ul>
        {rig.lights.some((light) => light.kind !== 'dome') && (
          <LightGlobe
            lights={rig.lights}
            chosen={chosen?.id ?? null}
            turnOf={turnOf}
            onChoose={(id) => setBench({ lightId: id })}
            onPlace={(id, azimuthDeg, elevationDeg) => {
              const light = rig.lights.find((l) => l.id === id)
              if (!light || light.kind === 'dome') return
              const azimuth = ((azimuthDeg - turnOf(light) + 540) % 360) - 180
              changeLight(id, 'move light', {
                azimuthDeg: Number(azimuth.toFixed(1)),
                elevationDeg: Number(elevationDeg.toFixed(1)),
              })
            }}
          />
        )}
      </section>
      {chosen && (
        <LightInspector
          key={chosen.id}
          project={project}
          light={chosen}
          viewRef={viewRef}
          setPointing={setPointing}
        />
      )}
    </>
  )
}
