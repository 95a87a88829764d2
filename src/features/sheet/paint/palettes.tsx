'use client'

import { useState } from 'react'
import { toHex } from '@/core/math/colour'
import { takePalette } from '@/state/material-actions'
import { useProjectStore } from '@/state/project-store'
import { SelectRow } from '@/ui/select-row'
import { setPaint, usePaint } from './paint-store'

/** Colours of a palette that is taken of a reference. */
const COUNT = 8

/** The project's palettes, to paint with, and more of them from its references. */
export function Palettes() {
  const palettes = useProjectStore((s) => s.project?.palettes)
  const references = useProjectStore((s) => s.project?.references)
  const [problem, setProblem] = useState<string | null>(null)
  const take = async (id: string) => {
    const reference = references?.find((own) => own.id === id)
    if (!reference) return
    try {
      setProblem(null)
      await takePalette(reference, COUNT)
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error))
    }
  }
  return (
    <>
      {palettes?.map(({ id, name, colours }) => (
        <div key={id} className="recent" role="group" aria-label={`Palette ${name}`}>
          {colours.map((colour, i) => {
            const hex = toHex(colour)
            return (
              <button
                key={i}
                aria-label={`Paint with ${hex} of ${name}`}
                title={`${hex}, ${name}`}
                style={{ background: hex }}
                onClick={() => setPaint({ colours: [hex, usePaint.getState().colours[1]], mixed: 0 })}
              />
            )
          })}
        </div>
      ))}
      {references && references.length > 0 && (
        <SelectRow id="paint-palette-of" label="Palette of" value="" onChange={(picked) => void take(picked)}>
          <option value="">A reference …</option>
          {references.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </SelectRow>
      )}
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
    </>
  )
}
