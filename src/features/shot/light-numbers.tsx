'use client'

import type { Light } from '@/core/scene/light-rig'
import { changeLight } from '@/state/rig-actions'
import { NumberField } from '@/ui/number-field'

/** Numbers that some kind of light has. */
type NumberOf<L> = { [K in keyof L]-?: L[K] extends number ? K : never }[keyof L] & string
type LightNumber = { [K in Light['kind']]: NumberOf<Extract<Light, { kind: K }>> }[Light['kind']]

interface NumberSpec {
  readonly label: string
  readonly min: number
  readonly max: number
  readonly step: number
  readonly unit?: string
  readonly defaultValue?: number
  readonly logarithmic?: boolean
}

/** Distances and sizes are in diagonals of the figure (D). */
const NUMBERS: Readonly<Record<LightNumber, NumberSpec>> = {
  strength: { label: 'Strength', min: 0, max: 10, step: 0.01, defaultValue: 1 },
  rotationDeg: { label: 'Turned', min: -180, max: 180, step: 1, unit: '°', defaultValue: 0 },
  azimuthDeg: { label: 'From', min: -180, max: 180, step: 1, unit: '°' },
  elevationDeg: { label: 'Height', min: -90, max: 90, step: 1, unit: '°' },
  sizeDeg: { label: 'Size in the sky', min: 0, max: 60, step: 0.1, unit: '°', defaultValue: 2 },
  distanceD: {
    label: 'Distance',
    min: 0.1,
    max: 10,
    step: 0.01,
    unit: 'D',
    defaultValue: 1.5,
    logarithmic: true,
  },
  widthD: {
    label: 'Width',
    min: 0.01,
    max: 4,
    step: 0.01,
    unit: 'D',
    defaultValue: 0.5,
    logarithmic: true,
  },
  heightD: {
    label: 'Height of it',
    min: 0.01,
    max: 4,
    step: 0.01,
    unit: 'D',
    defaultValue: 0.5,
    logarithmic: true,
  },
  radiusD: { label: 'Softness', min: 0, max: 1, step: 0.005, unit: 'D', defaultValue: 0.02 },
  coneDeg: { label: 'Cone', min: 1, max: 170, step: 1, unit: '°', defaultValue: 40 },
  edge: { label: 'Soft rim', min: 0, max: 1, step: 0.01, defaultValue: 0.2 },
}

interface LightNumbersProps {
  readonly light: Light
  /** In this order; those that the light does not have are left out. */
  readonly names: readonly LightNumber[]
}

/** Numbers of a light. */
export function LightNumbers({ light, names }: LightNumbersProps) {
  const values: Readonly<Record<string, unknown>> = light
  return names.map((name) => {
    const value = values[name]
    const { label, unit = '', ...field } = NUMBERS[name]
    if (typeof value !== 'number') return null
    return (
      <NumberField
        key={name}
        label={label}
        unit={unit}
        value={value}
        onChange={(next) => changeLight(light.id, `light ${label.toLowerCase()}`, { [name]: next })}
        {...field}
      />
    )
  })
}
