'use client'

import { useId, type ReactNode } from 'react'
import { onRovingKey } from './roving-keys'
import { PanelTabsStyles } from './panel-tabs-styles'

interface PanelTabsProps<T extends string> {
  readonly label: string
  readonly names: readonly T[]
  readonly labels: Readonly<Record<T, string>>
  readonly chosen: T
  readonly onChoose: (name: T) => void
  /** The panel of the chosen tab. */
  readonly children: ReactNode
}

/** Panels of which one is shown, and the row of tabs over them. */
export function PanelTabs<T extends string>(props: PanelTabsProps<T>) {
  const { label, names, labels, chosen, onChoose, children } = props
  const id = useId()
  return (
    <>
      <div className="panel-tabs" role="tablist" aria-label={label} onKeyDown={onRovingKey}>
        <PanelTabsStyles />
        {names.map((name) => (
          <button
            key={name}
            type="button"
            role="tab"
            id={`${id}-${name}`}
            aria-selected={name === chosen}
            aria-controls={name === chosen ? `${id}-panel` : undefined}
            tabIndex={name === chosen ? 0 : -1}
            onClick={() => onChoose(name)}
          >
            {labels[name]}
          </button>
        ))}
      </div>
      <div role="tabpanel" id={`${id}-panel`} aria-labelledby={`${id}-${chosen}`}>
        {children}
      </div>
    </>
  )
}
