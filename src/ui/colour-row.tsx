'use client'

interface ColourRowProps {
  readonly id: string
  readonly label: string
  /** #rrggbb; what follows is not shown. */
  readonly value: string
  readonly onChange: (colour: string) => void
}

/** One row of an inspector that is a colour. */
export function ColourRow({ id, label, value, onChange }: ColourRowProps) {
  return (
    <div className="row">
      <label htmlFor={id}>{label}</label>
      <span className="wide" style={{ textAlign: 'right' }}>
        <input
          id={id}
          type="color"
          className="swatch"
          value={value.slice(0, 7)}
          onChange={(e) => onChange(e.target.value)}
        />
      </span>
    </div>
  )
}
