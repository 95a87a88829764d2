import { useEffect, useRef } from 'react'
import { create } from 'zustand'

/** Anything that can be done: reached by its key, and by name from the finder. */
export interface Action {
  readonly id: string
  readonly label: string
  /** As tinykeys writes it: `$mod+z`, `Shift+?`. */
  readonly keys?: string
  readonly run: () => void
}

interface ActionState {
  readonly groups: Readonly<Record<string, readonly Action[]>>
}
export const useActionStore = create<ActionState>(() => ({ groups: {} }))

/** Offers actions while a component is shown. */
export function useActions(group: string, actions: readonly Action[]): void {
  const latest = useRef(actions)
  useEffect(() => {
    latest.current = actions
  })
  const shape = actions.map((a) => `${a.id} ${a.label} ${a.keys ?? ''}`).join('\n')
  useEffect(() => {
    const proxied = latest.current.map((action) => ({
      ...action,
      run: () => latest.current.find((a) => a.id === action.id)?.run(),
    }))
    useActionStore.setState((s) => ({ groups: { ...s.groups, [group]: proxied } }))
    return () =>
      useActionStore.setState((s) => ({
        groups: Object.fromEntries(Object.entries(s.groups).filter(([name]) => name !== group)),
      }))
  }, [group, shape])
}

/** Keys as people read them. */
export const keyLabel = (keys: string): string =>
  keys
    .replace('$mod', 'Ctrl')
    .replace('ArrowLeft', '←')
    .replace('ArrowRight', '→')
    .replace('ArrowUp', '↑')
    .replace('ArrowDown', '↓')
    .split('+')
    .map((k) => (k.length === 1 ? k.toUpperCase() : k.replace('Key', '').replace('Bracket', '')))
    .join(' ')
