'use client'

import { useId, type RefObject } from 'react'
import type { Light } from '@/core/scene/light-rig'
import { lightKindLabels } from '@/core/scene/light-rig'
import type { Project } from '@/data/project-schema'
import { changeLight, duplicateLight, removeLight } from '@/state/rig-actions'
import type { ThreeView } from '@/ui/view3d/three-view'
import { SelectRow } from '@/ui/select-row'
import { cameraAzimuth } from './camera-azimuth'
import { DomeLight } from './dome-light'
import { LightColour } from './light-colour'
import { LightNumbers } from './light-numbers'
import { PartChecklist } from './part-checklist'
import { PlacedLight } from './placed-light'
import type { Pointing } from './pointing'

interface LightInspectorProps {
  readonly project: Project
  readonly light: Light
  readonly viewRef: RefObject<ThreeView | null>
  readonly setPointing: (pointing: Pointing) => void
}

/** Everything about one light. */
export function LightInspector({ project, light, setPointing }: LightInspectorProps) {
  const id = useId()
  const change = (label: string, patch: Partial<Light>) => changeLight(light.id, label, patch)
  const tie = (tied: Light['tied']) => {
    if (tied === light.tied) return
    if (light.kind === 'dome') return change('tie light', { tied })
    // It stays where it is: only what it is counted from changes.
    const turn = cameraAzimuth(project) * (tied === 'world' ? 1 : -1)
    const azimuthDeg = Number((((light.azimuthDeg + turn + 540) % 360) - 180).toFixed(1))
    change('tie light', { tied, azimuthDeg })
  }
  return (
    <section className="section" aria-label={`Light: ${light.name}`}>
      <div className="section-head">
        <input
          className="plain-select"
          aria-label="Light name"
          value={light.name}
          style={{ fontWeight: 620, width: 130 }}
          onChange={(e) => change('rename light', { name: e.target.value })}
        />
        <span className="quiet">{lightKindLabels[light.kind]}</span>
      </div>
      <LightNumbers light={light} names={['strength']} />
      <LightColour light={light} />
      {light.kind === 'dome' ? (
        <DomeLight project={project} light={light} />
      ) : (
        <PlacedLight project={project} light={light} setPointing={setPointing} />
      )}
      <SelectRow
        id={`${id} tied`}
        label="Tied to"
        title="Tied to the camera it stays on its side of the picture; tied to the world it stays where it is"
        value={light.tied}
        onChange={(picked) => tie(picked as Light['tied'])}
      >
        <option value="camera">the camera</option>
        <option value="world">the world</option>
      </SelectRow>
      <label className="check">
        <input
          type="checkbox"
          checked={light.shadow}
          onChange={(e) => change('light shadow', { shadow: e.target.checked })}
        />
        Throws shadows
      </label>
      <PartChecklist
        project={project}
        label="Lights"
        keys={light.lights}
        onChange={(lights) => change('parts lit', { lights })}
      />
      {light.shadow && (
        <PartChecklist
          project={project}
          label="Shadow from"
          keys={light.throws}
          onChange={(throws) => change('parts that throw shadow', { throws })}
        />
      )}
      <div style={{ display: 'flex', gap: 8, marginTop: 8 }}>
        <button className="link" onClick={() => duplicateLight(light.id)}>
          Duplicate
        </button>
        <button className="link" onClick={() => removeLight(light.id)}>
          Remove
        </button>
      </div>
    </section>
  )
}
