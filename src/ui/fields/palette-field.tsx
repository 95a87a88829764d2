'use client'

interface PaletteFieldProps {
  readonly label: string
  readonly value: readonly string[]
  readonly onChange: (colours: string[]) => void
}

const MOST = 64

/** Colours, as many as one likes. */
export function PaletteField({ label, value, onChange }: PaletteFieldProps) {
  return (
    <div role="group" aria-label={label}>
      <div className="row" style={{ gridTemplateColumns: '1fr auto auto' }}>
        <span className="label">{label}</span>
        <button className="link" disabled={value.length <= 1} onClick={() => onChange(value.slice(0, -1))}>
          Take the last away
        </button>
        <button
          className="link"
          disabled={value.length >= MOST}
          onClick={() => onChange([...value, value[value.length - 1]])}
        >
          Add
        </button>
      </div>
      <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6, padding: '2px 0 6px' }}>
        {value.map((colour, i) => (
          <input
            key={i}
            type="color"
            className="swatch"
            aria-label={`${label} ${i + 1}`}
            value={colour}
            onChange={(e) => onChange(value.map((own, k) => (k === i ? e.target.value : own)))}
          />
        ))}
      </div>
    </div>
  )
}
