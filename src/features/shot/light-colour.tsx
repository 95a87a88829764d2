'use client'

import { useId } from 'react'
import { COOLEST_KELVIN, HOTTEST_KELVIN } from '@/core/math/black-body'
import { linearToSrgb, toHex } from '@/core/math/colour'
import type { Light } from '@/core/scene/light-rig'
import { linearColour } from '@/core/scene/rendered-light'
import { changeLight } from '@/state/rig-actions'
import { NumberField } from '@/ui/number-field'

/** A light's colour: free, or by its temperature. */
export function LightColour({ light }: { readonly light: Light }) {
  const id = useId()
  const change = (label: string, patch: Partial<Light>) => changeLight(light.id, label, patch)
  const colourHex =
    light.colour.by === 'colour'
      ? light.colour.hex
      : toHex(linearColour(light.colour).map((v) => linearToSrgb(v)))
  return (
    <>
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
    </>
  )
}
