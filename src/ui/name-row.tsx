'use client'

interface NameRowProps {
  readonly label: string
  readonly id: string
  readonly name: string
  readonly onRename: (name: string) => void
}

/** One row of an inspector that is a name, changed when one leaves it. */
export function NameRow({ label, id, name, onRename }: NameRowProps) {
  return (
    <div className="row">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        // What is undone elsewhere is seen here.
        key={name}
        className="plain-select wide"
        defaultValue={name}
        onBlur={(e) => {
          const next = e.target.value.trim()
          if (next && next !== name) onRename(next)
          else e.target.value = name
        }}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
    </div>
  )
}
