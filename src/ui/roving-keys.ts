import type { KeyboardEvent } from 'react'

const STEPS: Readonly<Record<string, number>> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }

/**
 * Arrow keys in a row of which one is chosen (tabs, radio buttons): they choose the next one and take the focus there, as
 * the ARIA Authoring Practices ask. For the row's own `onKeyDown`.
 */
export function onRovingKey(event: KeyboardEvent<HTMLElement>): void {
  const items = [...event.currentTarget.querySelectorAll<HTMLElement>('[role=tab], [role=radio]')]
  const at = items.findIndex((item) => item === event.target)
  if (at < 0 || event.altKey || event.ctrlKey || event.metaKey) return
  const to = event.key === 'Home' ? 0 : event.key === 'End' ? items.length - 1 : at + (STEPS[event.key] ?? 0)
  if (to === at) return
  const next = items[(to + items.length) % items.length]
  event.preventDefault()
  next.focus()
  next.click()
}
