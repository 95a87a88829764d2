/**
 * How long the hand has rested: what tells one change of a value from the next. A pointer that stays pressed does not rest, however
 * still it is held, so that a drag is one step of undo even where one looks for a while in between; nor does a hand that is in the
 * browser's own chooser of colours, of which the page is told what comes of it alone.
 */

/** Stands for a pointer in the browser's chooser of colours. */
const IN_CHOOSER = -1

const pressed = new Set<number>()
/** When the first of the pointers was pressed that are, or were last. Milliseconds of `performance.now`. */
let pressedAt = -Infinity
let letGoAt = -Infinity

/** Says that a pointer was pressed. @param isPrimary whether it is the first of its kind: none that was pressed before it still is. */
export function pressHand(pointerId: number, isPrimary: boolean): void {
  if (isPrimary) pressed.clear()
  if (pressed.size === 0) pressedAt = performance.now()
  pressed.add(pointerId)
}

/** Says that a pointer was let go of or taken away; without an id, all of them. */
export function letHandGo(pointerId?: number): void {
  const had = pressed.size
  if (pointerId === undefined) pressed.clear()
  else pressed.delete(pointerId)
  if (had > 0 && pressed.size === 0) letGoAt = performance.now()
}

/**
 * @param since milliseconds of `performance.now`, not after now.
 * @returns milliseconds that the hand has rested since then, without the rest of the press that was going on then.
 */
export function handRest(since: number): number {
  const now = performance.now()
  if (since < pressedAt) return now - since
  return now - Math.max(since, pressed.size > 0 ? now : letGoAt)
}

if (typeof window !== 'undefined') {
  // Told before anything hears of the press and answers it.
  const early = { capture: true, passive: true }
  window.addEventListener('pointerdown', (e) => pressHand(e.pointerId, e.isPrimary), early)
  window.addEventListener('pointerup', (e) => letHandGo(e.pointerId), early)
  window.addEventListener('pointercancel', (e) => letHandGo(e.pointerId), early)
  window.addEventListener('blur', () => letHandGo())
  const isColour = ({ target }: Event) => target instanceof HTMLInputElement && target.type === 'color'
  window.addEventListener('input', (e) => isColour(e) && pressHand(IN_CHOOSER, false), early)
  // Told when the chooser is closed.
  window.addEventListener('change', (e) => isColour(e) && letHandGo(IN_CHOOSER), early)
}
