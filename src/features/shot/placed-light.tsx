'use client'

import { useId, useState } from 'react'
import { useSnackbar } from 'notistack'
import type { Vec3 } from '@/core/math/vec3'
import type { Light } from '@/core/scene/light-rig'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { changeLight } from '@/state/rig-actions'
import { SelectRow } from '@/ui/select-row'
import { cameraAzimuth } from './camera-azimuth'
import { LightNumbers } from './light-numbers'
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
      <LightNumbers light={light} names={['azimuthDeg', 'elevationDeg', 'sizeDeg', 'distanceD']} />
      {light.kind === 'area' && (
        <SelectRow
          id={`${id} shape`}
          label="Shape"
          value={light.shape}
          onChange={(picked) => change('light shape', { shape: picked as typeof light.shape })}
        >
          <option value="round">Round</option>
          <option value="rectangle">Rectangle</option>
        </SelectRow>
      )}
      <LightNumbers light={light} names={['widthD', 'heightD', 'radiusD', 'coneDeg', 'edge']} />
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
