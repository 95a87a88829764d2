/** Everything that can be pressed or filled in on the screen, by its name: so that nothing is out of the finder's reach. */

export interface SeenControl {
  readonly label: string
  /** What stands above it. */
  readonly section: string
  readonly element: HTMLElement
}

const PRESSED = 'button, a[href], summary, [role=button], [role=tab], [role=radio], [role=option]'
const FILLED = 'input:not([type=hidden]):not([type=file]), select, textarea, [role=slider], [role=switch]'
const HEADS = 'h1, h2, h3, legend, .section-head'

const isPressed = (element: Element): boolean => element.matches(PRESSED)

/** The words in an element that are seen or spoken, without those of controls in it. */
function wordsOf(element: Element): string {
  const words: string[] = []
  const walk = (node: Node): void => {
    if (node.nodeType === Node.TEXT_NODE) words.push(node.textContent ?? '')
    if (!(node instanceof Element)) return
    if (node.getAttribute('aria-hidden') === 'true' || node.matches('select, input, textarea, style')) return
    const own = node.getAttribute('aria-label') ?? node.getAttribute('alt')
    // Words in a line of text belong together; what stands by itself is a word of its own.
    const gap = getComputedStyle(node).display === 'inline' ? '' : ' '
    words.push(gap)
    if (own !== null && node !== element) words.push(own)
    else node.childNodes.forEach(walk)
    words.push(gap)
  }
  walk(element)
  return words.join('').replace(/\s+/g, ' ').trim()
}

/** What assistive technology calls an element, as far as this application names its own. */
export function nameOf(element: HTMLElement): string {
  const by = element.getAttribute('aria-labelledby')
  if (by !== null)
    return by
      .split(/\s+/)
      .map((id) => document.getElementById(id))
      .map((own) => (own ? wordsOf(own) : ''))
      .join(' ')
      .trim()
  const said = element.getAttribute('aria-label')
  if (said) return said
  const labels = 'labels' in element ? ((element as HTMLInputElement).labels ?? []) : []
  const label = [...labels].map(wordsOf).join(' ').trim()
  if (label) return label
  return (
    (isPressed(element) ? wordsOf(element) : '') || element.title || element.getAttribute('placeholder') || ''
  )
}

function isSeen(element: HTMLElement, within: Element): boolean {
  const hidden = element.closest('[hidden], [aria-hidden=true], [inert]')
  // What lies over the page hides all of it from assistive technology: only what is hidden within it counts.
  if (hidden && hidden !== within && within.contains(hidden)) return false
  return !element.matches(':disabled, [aria-disabled=true]') && element.getClientRects().length > 0
}

/** The head of the nearest section about an element. */
function sectionOf(element: Element): string {
  for (let about = element.parentElement; about; about = about.parentElement) {
    const said = about.matches('[aria-label], [aria-labelledby]') ? nameOf(about) : ''
    if (said) return said
    const head = about.matches('section, fieldset, aside, main, header, nav')
      ? about.querySelector(HEADS)
      : null
    if (head && !head.contains(element)) {
      const words = wordsOf(head.firstElementChild ?? head)
      if (words) return words
    }
  }
  return ''
}

/** What can be pressed or filled in within an element now, in the order in which it stands; what has no name is left out. */
export const seenControls = (within: Element): readonly SeenControl[] =>
  [...within.querySelectorAll<HTMLElement>(`${PRESSED}, ${FILLED}`)]
    .filter((element) => isSeen(element, within))
    .flatMap((element) => {
      const label = nameOf(element)
      return label ? [{ label, section: sectionOf(element), element }] : []
    })

/**
 * Does what pressing it does; what is filled in has the focus then.
 * @param now what stands on the screen by now: it may have been drawn anew since it was seen.
 */
export function goToControl({ element, label, section }: SeenControl, now: readonly SeenControl[]): void {
  const same = (own: SeenControl) => own.label === label && own.section === section
  const there = element.isConnected ? element : now.find(same)?.element
  if (!there) return
  there.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  there.focus()
  if (isPressed(there)) there.click()
}
