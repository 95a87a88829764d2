'use client'

import { useId } from 'react'
import { parseHex, toHex, type Rgb } from '@/core/math/colour'
import type { ProjectMaterial } from '@/data/project-schema'
import { changeMaterial } from '@/state/material-actions'
import { NumberField } from '@/ui/number-field'

export const rgbOf = (hex: string): Rgb => {
  const [r, g, b] = parseHex(hex)
  return [r, g, b]
}

/** Everything of a material but its colour. */
export function MaterialFields({ material }: { readonly material: ProjectMaterial }) {
  const id = useId()
  const share = (
    label: string,
    name: 'roughness' | 'highlight' | 'opacity' | 'textureBrightness',
    max = 1,
    defaultValue?: number,
  ) => (
    <NumberField
      label={label}
      value={material[name]}
      min={0}
      max={max}
      step={0.01}
      defaultValue={defaultValue}
      onChange={(v) => changeMaterial(material.key, label, { [name]: v })}
    />
  )
  return (
    <div className="material-body">
      {share('Roughness', 'roughness')}
      {share('Highlight', 'highlight')}
      {share('Opacity', 'opacity', 1, 1)}
      <div className="row">
        <label htmlFor={id}>Emission</label>
        <span
          className="wide"
          style={{ display: 'flex', justifyContent: 'flex-end', alignItems: 'center', gap: 8 }}
        >
          <span className="quiet">{toHex(material.emission)}</span>
          <input
            id={id}
            type="color"
            className="swatch"
            value={toHex(material.emission)}
            onChange={(e) =>
              changeMaterial(material.key, 'Emission', { emission: [...rgbOf(e.target.value)] })
            }
          />
        </span>
      </div>
      {material.texture !== null && (
        <>
          <div className="row two">
            <span className="label">Picture</span>
            <span className="quiet ellipsis" title={material.texture}>
              {material.texture}
            </span>
          </div>
          {share('Brightness', 'textureBrightness', 4, 1)}
        </>
      )}
    </div>
  )
}
