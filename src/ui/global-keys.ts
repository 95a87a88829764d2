/**
 * When the keys of actions sleep. One rule: a menu, dialog or list that lies open has the keyboard to itself, and a control
 * that has the focus keeps every key it has a use for.
 */

/** What a focused control is, as far as keys go. */
export type FocusKind = 'text' | 'select' | 'number-slider' | 'toggle' | 'pressed' | 'row' | 'own' | 'none'

const ARROWS = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown']
const STEPPING = [...ARROWS, 'Home', 'End', 'PageUp', 'PageDown']
const ERASING = ['Delete', 'Backspace']
const PRESSING = ['Enter', ' ']

/** Keys with Ctrl or Cmd that a text field uses itself. */
const EDITING = ['a', 'c', 'v', 'x', 'y', 'z']

/** The keys a kind uses when no modifier but Shift is held. `all` keeps every one. */
const USED: Readonly<Record<FocusKind, readonly string[] | 'all'>> = {
  text: 'all',
  // Letters choose by the first of a name.
  select: 'all',
  'number-slider': [...STEPPING, ...ERASING],
  toggle: [...PRESSING, ...ERASING, ...ARROWS],
  pressed: PRESSING,
  row: [...PRESSING, ...STEPPING],
  own: [...PRESSING, ...STEPPING, ...ERASING],
  none: [],
}

export interface PressedKey {
  readonly key: string
  readonly ctrlKey: boolean
  readonly metaKey: boolean
  readonly altKey: boolean
}

/** Whether a control of a kind uses a key. */
export function usesKey(kind: FocusKind, { key, ctrlKey, metaKey, altKey }: PressedKey): boolean {
  if (ctrlKey || metaKey) return kind === 'text' && EDITING.includes(key.toLowerCase())
  const used = USED[kind]
  if (used === 'all') return kind === 'text' || !altKey
  return !altKey && used.includes(key)
}

const KINDS: readonly (readonly [FocusKind, string])[] = [
  ['number-slider', 'input[type=range], [role=slider], [role=spinbutton]'],
  ['toggle', 'input[type=checkbox], input[type=radio], input[type=color], [role=switch], [role=checkbox]'],
  ['pressed', 'input[type=button], input[type=submit], input[type=file]'],
  ['text', 'input, textarea, [contenteditable=true], [role=textbox], [role=combobox]'],
  ['select', 'select'],
  ['row', '[role=tab], [role=radio], [role=treeitem], [role=menuitem]'],
  ['own', '[role=application]'],
  ['pressed', 'button, a[href], summary, [role=button], [role=link]'],
]

/** What has the focus. */
export const focusKind = (element: Element): FocusKind =>
  KINDS.find(([, selector]) => element.matches(selector))?.[0] ?? 'none'

/** What lies over the page, of the interface library or of ours. */
const OVER = '.MuiModal-root:not([aria-hidden=true]), dialog[open]'

/** What was closed still stands for a moment while it fades out; it has no say in keys any more. */
const isFading = (over: Element): boolean =>
  [...over.children].some(
    (child) => child instanceof HTMLElement && !child.ariaHidden && child.style.opacity === '0',
  )

const isAnythingOpen = (): boolean => [...document.querySelectorAll(OVER)].some((over) => !isFading(over))

/** Whether actions leave a key alone. */
export function keysSleep(event: KeyboardEvent): boolean {
  if (event.defaultPrevented || event.isComposing) return true
  if (isAnythingOpen()) return true
  return event.target instanceof Element && usesKey(focusKind(event.target), event)
}
