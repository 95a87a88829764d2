import { useEffect, useId, useRef } from 'react'
import { create } from 'zustand'

/** Anything that can be done: reached by its key, and by name from the finder. */
export interface Action {
  readonly id: string
  readonly label: string
  /** As tinykeys writes it: `$mod+z`, `Shift+?`. */
  readonly keys?: string
  readonly run: () => void
}

/** Actions of one component; several may offer to one group. */
interface Offer {
  readonly owner: string
  readonly group: string
  readonly actions: readonly Action[]
}
interface ActionState {
  readonly offers: readonly Offer[]
}
export const useActionStore = create<ActionState>(() => ({ offers: [] }))

/** What is offered now, by group, in the order in which groups came. */
export function actionGroups(offers: readonly Offer[]): ReadonlyMap<string, readonly Action[]> {
  const groups = new Map<string, readonly Action[]>()
  for (const { group, actions } of offers) groups.set(group, [...(groups.get(group) ?? []), ...actions])
  return groups
}

/** Puts one component's actions in place of those it offered before; null ends its offer. */
export function offerActions(owner: string, group: string, actions: readonly Action[] | null): void {
  useActionStore.setState(({ offers }) => {
    const at = offers.findIndex((offer) => offer.owner === owner)
    if (actions === null) return { offers: offers.filter((offer) => offer.owner !== owner) }
    const offer = { owner, group, actions }
    return { offers: at < 0 ? [...offers, offer] : offers.map((other, i) => (i === at ? offer : other)) }
  })
}

/** Offers actions while a component is shown. */
export function useActions(group: string, actions: readonly Action[]): void {
  const owner = useId()
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
    offerActions(owner, group, proxied)
    return () => offerActions(owner, group, null)
  }, [owner, group, shape])
}

const isApple = (): boolean => typeof navigator !== 'undefined' && /mac|iphone|ipad/i.test(navigator.platform)

const APPLE: Readonly<Record<string, string>> = { $mod: '⌘', Shift: '⇧', Alt: '⌥' }
const NAMES: Readonly<Record<string, string>> = {
  $mod: 'Ctrl',
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  Escape: 'Esc',
}

/** Keys as people read them, on their own system. @param apple whether modifiers are shown as signs. */
export const keyLabel = (keys: string, apple = isApple()): string =>
  keys
    .split('+')
    .map((k) => {
      const own = (apple && APPLE[k]) || NAMES[k]
      if (own) return own
      return k.length === 1 ? k.toUpperCase() : k.replace(/^(Key|Digit|Bracket)/, '')
    })
    .join(apple ? '' : ' ')
