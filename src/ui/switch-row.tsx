'use client'

import Switch from '@mui/material/Switch'

interface SwitchRowProps {
  readonly label: string
  /** Said as a tooltip. */
  readonly note?: string
  readonly checked: boolean
  readonly disabled?: boolean
  readonly onChange: (on: boolean) => void
}

/** One row of an inspector that is on or off. */
export function SwitchRow({ label, note, checked, disabled = false, onChange }: SwitchRowProps) {
  return (
    <div className="row" title={note}>
      <span className="label">{label}</span>
      <span className="wide" style={{ textAlign: 'right' }}>
        <Switch
          size="small"
          color="secondary"
          checked={checked}
          disabled={disabled}
          onChange={(e) => onChange(e.target.checked)}
          slotProps={{ input: { 'aria-label': label } }}
        />
      </span>
    </div>
  )
}
