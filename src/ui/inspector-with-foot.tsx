import type { ReactNode } from 'react'

interface InspectorWithFootProps {
  readonly children: ReactNode
  readonly foot: ReactNode
}

/** An inspector whose foot stays in sight beneath what is scrolled, and never over it. */
export function InspectorWithFoot({ children, foot }: InspectorWithFootProps) {
  return (
    <aside className="inspector footed" aria-label="Inspector">
      <div className="inspector-scroll">{children}</div>
      {foot}
    </aside>
  )
}
