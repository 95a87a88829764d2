'use client'

import type { ReactNode } from 'react'

interface SelectRowProps {
  readonly id: string
  readonly label: string
  readonly value: string | number
  readonly onChange: (value: string) => void
  readonly disabled?: boolean
  /** Said as a tooltip. */
  readonly title?: string
  readonly testId?: string
  /** Its options. */
  readonly children: ReactNode
}

/** One row of an inspector that is one of several. */
export function SelectRow(row: SelectRowProps) {
  const { id, label, onChange, testId, children, ...rest } = row
  return (
    <div className="row">
      <label htmlFor={id}>{label}</label>
      <select
        id={id}
        className="plain-select wide"
        data-testid={testId}
        onChange={(e) => onChange(e.target.value)}
        {...rest}
      >
        {children}
      </select>
    </div>
  )
}
