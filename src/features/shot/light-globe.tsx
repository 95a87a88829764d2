'use client'

import { useRef } from 'react'
import type { Light } from '@/core/scene/light-rig'
import { linearColour } from '@/core/scene/rendered-light'
import { linearToSrgb, toHex } from '@/core/math/colour'
import { LightGlobeStyles } from './light-globe-styles'

const SIZE = 236
const RADIUS = 106

type Placed = Exclude<Light, { kind: 'dome' }>

/**
 * Azimuth and elevation as seen from the camera, on a disc that shows the whole sphere round the subject: the middle is
 * from the camera, the inner ring from the sides, above and below, the rim from straight behind. Distance from the middle
 * is the angle to the line of sight (azimuthal equidistant projection).
 */
export function toGlobe(azimuthDeg: number, elevationDeg: number): readonly [number, number] {
  const [azimuth, elevation] = [azimuthDeg, elevationDeg].map((v) => (v * Math.PI) / 180)
  const x = Math.sin(azimuth) * Math.cos(elevation)
  const y = Math.sin(elevation)
  const z = Math.cos(azimuth) * Math.cos(elevation)
  const away = Math.acos(Math.min(1, Math.max(-1, z))) / Math.PI
  const level = Math.hypot(x, y)
  // Straight behind there is no direction on the disc: the rim's right end stands for all.
  return level < 1e-9 ? [away, 0] : [(away * x) / level, (away * y) / level]
}

/** The opposite of {@link toGlobe}: points outside the disc count as its rim. */
export function fromGlobe(x: number, y: number): readonly [azimuthDeg: number, elevationDeg: number] {
  const length = Math.hypot(x, y)
  const away = Math.min(1, length) * Math.PI
  const [dx, dy] = length > 0 ? [x / length, y / length] : [1, 0]
  const [px, py, pz] = [Math.sin(away) * dx, Math.sin(away) * dy, Math.cos(away)]
  return [(Math.atan2(px, pz) * 180) / Math.PI, (Math.asin(Math.min(1, Math.max(-1, py))) * 180) / Math.PI]
}

const swatch = (light: Light): string => toHex(linearColour(light.colour).map((v) => linearToSrgb(v)))

interface LightGlobeProps {
  readonly lights: readonly Light[]
  readonly chosen: string | null
  /** What is added to a light's azimuth to see it from the camera: 0 where it is tied to it. */
  readonly turnOf: (light: Light) => number
  readonly onChoose: (id: string) => void
  /** Angles as seen from the camera. */
  readonly onPlace: (id: string, azimuthDeg: number, elevationDeg: number) => void
}

/** The sphere round the subject, flattened: drag a light anywhere, behind the subject too. */
export function LightGlobe({ lights, chosen, turnOf, onChoose, onPlace }: LightGlobeProps) {
  const svgRef = useRef<SVGSVGElement>(null)
  const dragging = useRef<string | null>(null)
  const placed = lights.filter((light): light is Placed => light.kind !== 'dome')
  const at = (light: Placed) => {
    const [x, y] = toGlobe(light.azimuthDeg + turnOf(light), light.elevationDeg)
    return [SIZE / 2 + x * RADIUS, SIZE / 2 - y * RADIUS] as const
  }
  const place = (id: string, event: { clientX: number; clientY: number }) => {
    const box = svgRef.current?.getBoundingClientRect()
    if (!box) return
    const scale = SIZE / box.width
    const x = ((event.clientX - box.left) * scale - SIZE / 2) / RADIUS
    const y = -((event.clientY - box.top) * scale - SIZE / 2) / RADIUS
    onPlace(id, ...fromGlobe(x, y))
  }
  return (
    <svg
      ref={svgRef}
      className="globe"
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      data-testid="light-globe"
      onPointerDown={(event) => {
        const id = (event.target as Element).getAttribute('data-light') ?? chosen
        if (!id || !placed.some((light) => light.id === id)) return
        onChoose(id)
        dragging.current = id
        event.currentTarget.setPointerCapture(event.pointerId)
        if (!(event.target as Element).hasAttribute('data-light')) place(id, event)
      }}
      onPointerMove={(event) => dragging.current && place(dragging.current, event)}
      onPointerUp={() => (dragging.current = null)}
    >
      <LightGlobeStyles />
      <circle className="globe-back" cx={SIZE / 2} cy={SIZE / 2} r={RADIUS} />
      <circle className="globe-front" cx={SIZE / 2} cy={SIZE / 2} r={RADIUS / 2} />
      <line x1={SIZE / 2 - RADIUS} y1={SIZE / 2} x2={SIZE / 2 + RADIUS} y2={SIZE / 2} />
      <text x={SIZE / 2} y={SIZE / 2 - RADIUS / 2 - 5}>
        above
      </text>
      <text x={SIZE / 2} y={SIZE / 2 - RADIUS + 14}>
        behind
      </text>
      <text x={SIZE / 2} y={SIZE / 2 + RADIUS / 2 + 13}>
        below
      </text>
      {placed.map((light) => {
        const [x, y] = at(light)
        const isChosen = light.id === chosen
        return (
          <circle
            key={light.id}
            className={`globe-light ${isChosen ? 'chosen' : ''}`}
            data-light={light.id}
            cx={x}
            cy={y}
            r={isChosen ? 9 : 7}
            fill={light.on ? swatch(light) : 'transparent'}
            role="button"
            tabIndex={0}
            aria-label={`${light.name}: ${Math.round(light.azimuthDeg)}°, ${Math.round(light.elevationDeg)}° up`}
            onFocus={() => onChoose(light.id)}
            onKeyDown={(event) => {
              const by = event.shiftKey ? 15 : 3
              const [da, de] =
                event.key === 'ArrowLeft'
                  ? [-by, 0]
                  : event.key === 'ArrowRight'
                    ? [by, 0]
                    : event.key === 'ArrowUp'
                      ? [0, by]
                      : event.key === 'ArrowDown'
                        ? [0, -by]
                        : [0, 0]
              if (da === 0 && de === 0) return
              event.preventDefault()
              event.stopPropagation()
              const azimuth = light.azimuthDeg + turnOf(light) + da
              onPlace(
                light.id,
                ((azimuth + 540) % 360) - 180,
                Math.min(90, Math.max(-90, light.elevationDeg + de)),
              )
            }}
          >
            <title>{light.name}</title>
          </circle>
        )
      })}
    </svg>
  )
}
