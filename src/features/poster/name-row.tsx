'use client'

interface NameRowProps {
  readonly label: string
  readonly id: string
  readonly name: string
  readonly onRename: (name: string) => void
}

/** A name that is changed when one leaves it. */
export function NameRow({ label, id, name, onRename }: NameRowProps) {
  return (
    <div className="row">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        className="plain-select wide"
        defaultValue={name}
        onBlur={(e) => {
          const next = e.target.value.trim()
          if (next && next !== name) onRename(next)
        }}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
    </div>
  )
}
