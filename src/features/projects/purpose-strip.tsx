'use client'

import { useRef, useState } from 'react'
import { MODEL_ACCEPT } from '@/core/formats/model-readers'
import { PURPOSES, type Purpose } from '@/data/purposes'
import { pickedFiles, type GivenFile } from '@/state/given-files'
import { setBench } from '@/state/view-store'

interface PurposeStripProps {
  /** Begins a project for it with models. */
  readonly onBegin: (purpose: Purpose, files: readonly GivenFile[]) => void
  /** Opens the demo where it shows that. */
  readonly onDemo: (purpose: Purpose) => void
  /** Goes through the demo's illustration, layer by layer. */
  readonly onMaking: () => void
}

/** What one came to make: with one's own model, or as the demo shows it. */
export function PurposeStrip({ onBegin, onDemo, onMaking }: PurposeStripProps) {
  const fileRef = useRef<HTMLInputElement>(null)
  const [chosen, setChosen] = useState<Purpose | null>(null)
  return (
    <section aria-labelledby="purposes-head">
      <div className="projects-head">
        <h2 id="purposes-head" className="display">
          What will it be?
        </h2>
        <span className="spacer" />
        <button className="link" onClick={onMaking} data-testid="making-low-water">
          See how Low Water was made, layer by layer
        </button>
      </div>
      <ul className="purpose-strip">
        {PURPOSES.map((purpose) => (
          <li key={purpose.id}>
            <b className="display">{purpose.label}</b>
            <p>{purpose.note}</p>
            <span>
              <button
                className="link"
                aria-label={`${purpose.label}, with your model`}
                onClick={() => {
                  setChosen(purpose)
                  fileRef.current?.click()
                }}
              >
                Your model
              </button>
              <button
                className="link"
                aria-label={`${purpose.label}, with the demo`}
                onClick={() => onDemo(purpose)}
                data-testid={`demo-${purpose.id}`}
              >
                The demo
              </button>
              <button
                className="link"
                aria-label={`${purpose.label}: how it is made`}
                onClick={() => setBench({ guide: purpose.guide })}
              >
                How
              </button>
            </span>
          </li>
        ))}
      </ul>
      <input
        ref={fileRef}
        type="file"
        multiple
        accept={MODEL_ACCEPT}
        hidden
        data-testid="purpose-input"
        onChange={(e) => {
          const files = pickedFiles(e.target.files ?? [])
          if (files.length > 0 && chosen) onBegin(chosen, files)
        }}
      />
    </section>
  )
}
