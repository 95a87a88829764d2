'use client'

import { useId, useRef, useState, type RefObject } from 'react'
import { useSnackbar } from 'notistack'
import { COOLEST_KELVIN, HOTTEST_KELVIN } from '@/core/math/black-body'
import { toHex, linearToSrgb } from '@/core/math/colour'
import type { Vec3 } from '@/core/math/vec3'
import type { Light } from '@/core/scene/light-rig'
import { lightKindLabels } from '@/core/scene/light-rig'
import { linearColour } from '@/core/scene/rendered-light'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { storageProblem } from '@/data/project-repository'
import { changeLight, duplicateLight, removeLight, setDomePicture } from '@/state/rig-actions'
import { NumberField } from '@/ui/number-field'
import type { ThreeView } from '@/ui/view3d/three-view'
import { cameraAzimuth } from './camera-azimuth'
import { PartChecklist } from './part-checklist'
import { anglesFor, highlightDirection, shadowDirection } from './place-light'
import type { ShotStageProps } from './shot-stage'

interface LightInspectorProps {
  readonly project: Project
  readonly light: Light
  readonly viewRef: RefObject<ThreeView | null>
  readonly setPointing: (pointing: ShotStageProps['pointing']) => void
}

/** Everything about one light. */
export function LightInspector({ project, light, setPointing }: LightInspectorProps) {
  const id = useId()
  const { enqueueSnackbar } = useSnackbar()
  const pictureInput = useRef<HTMLInputElement>(null)
  const [thrower, setThrower] = useState<Vec3 | null>(null)
  const change = (label: string, patch: Partial<Light>) => changeLight(light.id, label, patch)
  const number = (
    label: string,
    name: string,
    value: number,
    min: number,
    max: number,
    step: number,
    unit = '',
    defaultValue?: number,
    logarithmic = false,
  ) => (
    <NumberField
      key={name}
      label={label}
      value={value}
      min={min}
      max={max}
      step={step}
      unit={unit}
      defaultValue={defaultValue}
      logarithmic={logarithmic}
      onChange={(v) => change(`light ${label.toLowerCase()}`, { [name]: v } as Partial<Light>)}
    />
  )
  const place = (direction: Vec3) => {
    if (light.kind !== 'dome') change('place light', anglesFor(light, direction, cameraAzimuth(project)))
  }
  const missed = () =>
    enqueueSnackbar('There is no surface there: click on the form.', { variant: 'warning' })
  const pointHighlight = () =>
    setPointing({
      text: `Click where the highlight of ${light.name} should fall. Esc leaves it.`,
      onPoint: (hit) => {
        if (!hit) return missed()
        place(highlightDirection(hit.point, hit.normal, activeShot(project).camera.eye))
        setPointing(null)
      },
    })
  const pointShadow = () =>
    setPointing({
      text: `Click what throws the shadow of ${light.name}. Esc leaves it.`,
      onPoint: (first) => {
        if (!first) return missed()
        setThrower(first.point)
        setPointing({
          text: 'Now click where its shadow should fall. Esc leaves it.',
          onPoint: (second) => {
            if (!second) return missed()
            place(shadowDirection(first.point, second.point))
            setThrower(null)
            setPointing(null)
          },
        })
      },
    })
  const tie = (tied: Light['tied']) => {
    if (tied === light.tied) return
    if (light.kind === 'dome') return change('tie light', { tied })
    // It stays where it is: only what it is counted from changes.
    const turn = cameraAzimuth(project) * (tied === 'world' ? 1 : -1)
    const azimuthDeg = Number((((light.azimuthDeg + turn + 540) % 360) - 180).toFixed(1))
    change('tie light', { tied, azimuthDeg })
  }
  const colourHex =
    light.colour.by === 'colour'
      ? light.colour.hex
      : toHex(linearColour(light.colour).map((v) => linearToSrgb(v)))
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
      {number('Strength', 'strength', light.strength, 0, 10, 0.01, '', 1)}
      <div className="row">
        <label htmlFor={`${id} by`}>Colour</label>
        <span
          className="wide"
          style={{ display: 'flex', gap: 8, alignItems: 'center', justifyContent: 'flex-end' }}
        >
          <select
            id={`${id} by`}
            className="plain-select"
            value={light.colour.by}
            onChange={(e) =>
              change('light colour', {
                colour:
                  e.target.value === 'kelvin'
                    ? { by: 'kelvin', kelvin: 5500 }
                    : { by: 'colour', hex: colourHex },
              })
            }
          >
            <option value="colour">free</option>
            <option value="kelvin">kelvin</option>
          </select>
          <input
            type="color"
            className="swatch"
            aria-label={light.kind === 'dome' ? 'Colour from above' : 'Light colour'}
            value={colourHex}
            onChange={(e) => change('light colour', { colour: { by: 'colour', hex: e.target.value } })}
          />
        </span>
      </div>
      {light.colour.by === 'kelvin' && (
        <NumberField
          label="Temperature"
          value={light.colour.kelvin}
          min={COOLEST_KELVIN}
          max={HOTTEST_KELVIN}
          step={50}
          unit="K"
          logarithmic
          onChange={(kelvin) => change('light temperature', { colour: { by: 'kelvin', kelvin } })}
        />
      )}
      {light.kind === 'dome' ? (
        <>
          <div className="row">
            <label htmlFor={`${id} look`}>Sky</label>
            <select
              id={`${id} look`}
              className="plain-select wide"
              value={light.look}
              onChange={(e) => {
                const look = e.target.value as typeof light.look
                if (look === 'picture' && light.pictureId === null) pictureInput.current?.click()
                else change('dome', { look })
              }}
            >
              <option value="one">One colour</option>
              <option value="gradient">Above and below</option>
              <option value="picture">Picture (HDR, EXR …)</option>
            </select>
          </div>
          {light.look === 'gradient' && (
            <div className="row">
              <label htmlFor={`${id} below`}>From below</label>
              <span className="wide" style={{ textAlign: 'right' }}>
                <input
                  id={`${id} below`}
                  type="color"
                  className="swatch"
                  value={light.below}
                  onChange={(e) => change('light from below', { below: e.target.value })}
                />
              </span>
            </div>
          )}
          {light.look === 'picture' && (
            <>
              {number('Turned', 'rotationDeg', light.rotationDeg, -180, 180, 1, '°', 0)}
              <button className="link" onClick={() => pictureInput.current?.click()}>
                {project.pictures.find((p) => p.id === light.pictureId)?.name ?? 'Choose a picture'}
              </button>
            </>
          )}
          <input
            ref={pictureInput}
            type="file"
            hidden
            accept=".hdr,.exr,image/*"
            data-testid="dome-picture"
            onChange={(e) => {
              const file = e.target.files?.[0]
              e.target.value = ''
              if (file)
                void setDomePicture(light.id, file).catch((error: unknown) =>
                  enqueueSnackbar(storageProblem(error), { variant: 'error' }),
                )
            }}
          />
        </>
      ) : (
        <>
          {number('From', 'azimuthDeg', light.azimuthDeg, -180, 180, 1, '°')}
          {number('Height', 'elevationDeg', light.elevationDeg, -90, 90, 1, '°')}
          {light.kind === 'sun' && number('Size in the sky', 'sizeDeg', light.sizeDeg, 0, 60, 0.1, '°', 2)}
          {light.kind !== 'sun' &&
            number('Distance', 'distanceD', light.distanceD, 0.1, 10, 0.01, 'D', 1.5, true)}
          {light.kind === 'area' && (
            <>
              <div className="row">
                <label htmlFor={`${id} shape`}>Shape</label>
                <select
                  id={`${id} shape`}
                  className="plain-select wide"
                  value={light.shape}
                  onChange={(e) => change('light shape', { shape: e.target.value as typeof light.shape })}
                >
                  <option value="round">Round</option>
                  <option value="rectangle">Rectangle</option>
                </select>
              </div>
              {number('Width', 'widthD', light.widthD, 0.01, 4, 0.01, 'D', 0.5, true)}
              {number('Height of it', 'heightD', light.heightD, 0.01, 4, 0.01, 'D', 0.5, true)}
            </>
          )}
          {(light.kind === 'point' || light.kind === 'spot') &&
            number('Softness', 'radiusD', light.radiusD, 0, 1, 0.005, 'D', 0.02)}
          {light.kind === 'spot' && (
            <>
              {number('Cone', 'coneDeg', light.coneDeg, 1, 170, 1, '°', 40)}
              {number('Soft rim', 'edge', light.edge, 0, 1, 0.01, '', 0.2)}
            </>
          )}
          <div className="pills" style={{ margin: '6px 0' }}>
            <button className="pill" onClick={pointHighlight} data-testid="point-highlight">
              Highlight where I click
            </button>
            <button className="pill" onClick={pointShadow} aria-pressed={thrower !== null}>
              Shadow where I click
            </button>
          </div>
        </>
      )}
      <div className="row">
        <label htmlFor={`${id} tied`}>Tied to</label>
        <select
          id={`${id} tied`}
          className="plain-select wide"
          title="Tied to the camera it stays on its side of the picture; tied to the world it stays where it is"
          value={light.tied}
          onChange={(e) => tie(e.target.value as Light['tied'])}
        >
          <option value="camera">the camera</option>
          <option value="world">the world</option>
        </select>
      </div>
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
