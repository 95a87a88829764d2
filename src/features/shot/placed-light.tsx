'use client'

import { useId, useState } from 'react'
import { useSnackbar } from 'notistack'
import type { Vec3 } from '@/core/math/vec3'
import type { Light } from '@/core/scene/light-rig'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { changeLight } from '@/state/rig-actions'
import { cameraAzimuth } from './camera-azimuth'
import { LightNumber } from './light-number'
import { anglesFor, highlightDirection, shadowDirection } from './place-light'
import type { Pointing } from './pointing'

interface PlacedLightProps {
  readonly project: Project
  readonly light: Exclude<Light, { kind: 'dome' }>
  readonly setPointing: (pointing: Pointing) => void
}

/** Where a light stands, how large it is, and what it should do where the person clicks. */
export function PlacedLight({ project, light, setPointing }: PlacedLightProps) {
  const id = useId()
  const { enqueueSnackbar } = useSnackbar()
  const [thrower, setThrower] = useState<Vec3 | null>(null)
  const change = (label: string, patch: Partial<Light>) => changeLight(light.id, label, patch)
  const place = (direction: Vec3) =>
    change('place light', anglesFor(light, direction, cameraAzimuth(project)))
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
  return (
    <>
      <LightNumber
        light={light}
        label="From"
        name="azimuthDeg"
        value={light.azimuthDeg}
        min={-180}
        max={180}
        step={1}
        unit="°"
      />
      <LightNumber
        light={light}
        label="Height"
        name="elevationDeg"
        value={light.elevationDeg}
        min={-90}
        max={90}
        step={1}
        unit="°"
      />
      {light.kind === 'sun' && (
        <LightNumber
          light={light}
          label="Size in the sky"
          name="sizeDeg"
          value={light.sizeDeg}
          min={0}
          max={60}
          step={0.1}
          unit="°"
          defaultValue={2}
        />
      )}
      {light.kind !== 'sun' && (
        <LightNumber
          light={light}
          label="Distance"
          name="distanceD"
          value={light.distanceD}
          min={0.1}
          max={10}
          step={0.01}
          unit="D"
          defaultValue={1.5}
          logarithmic
        />
      )}
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
          <LightNumber
            light={light}
            label="Width"
            name="widthD"
            value={light.widthD}
            min={0.01}
            max={4}
            step={0.01}
            unit="D"
            defaultValue={0.5}
            logarithmic
          />
          <LightNumber
            light={light}
            label="Height of it"
            name="heightD"
            value={light.heightD}
            min={0.01}
            max={4}
            step={0.01}
            unit="D"
            defaultValue={0.5}
            logarithmic
          />
        </>
      )}
      {(light.kind === 'point' || light.kind === 'spot') && (
        <LightNumber
          light={light}
          label="Softness"
          name="radiusD"
          value={light.radiusD}
          min={0}
          max={1}
          step={0.005}
          unit="D"
          defaultValue={0.02}
        />
      )}
      {light.kind === 'spot' && (
        <>
          <LightNumber
            light={light}
            label="Cone"
            name="coneDeg"
            value={light.coneDeg}
            min={1}
            max={170}
            step={1}
            unit="°"
            defaultValue={40}
          />
          <LightNumber
            light={light}
            label="Soft rim"
            name="edge"
            value={light.edge}
            min={0}
            max={1}
            step={0.01}
            defaultValue={0.2}
          />
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
  )
}
