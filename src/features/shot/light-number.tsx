'use client'

import type { Light } from '@/core/scene/light-rig'
import { changeLight } from '@/state/rig-actions'
import { NumberField } from '@/ui/number-field'

/** Numbers that some kind of light has. */
type LightNumber = { [L in Light as L['kind']]: NumbersOf<L> }[Light['kind']]
type NumbersOf<L> = { [K in keyof L]-?: L[K] extends number ? K : never }[keyof L] & string

interface LightNumberProps {
  readonly light: Light
  readonly label: string
  readonly name: LightNumber
  readonly value: number
  readonly min: number
  readonly max: number
  readonly step: number
  readonly unit?: string
  readonly defaultValue?: number
  readonly logarithmic?: boolean
}

/** A number of a light. */
export function LightNumber({ light, label, name, unit = '', ...field }: LightNumberProps) {
  return (
    <NumberField
      label={label}
      unit={unit}
      onChange={(value) => changeLight(light.id, `light ${label.toLowerCase()}`, { [name]: value })}
      {...field}
    />
  )
}
