/** A box of the page that is turned about its middle. */

/** A vector turned clockwise on the screen. Degrees. */
export function turned(x: number, y: number, degrees: number): readonly [number, number] {
  const angle = (degrees * Math.PI) / 180
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  return [x * cos - y * sin, x * sin + y * cos]
}

/** A place within a turned element, in shares of its own width and height. @param degrees clockwise. */
export function placeIn(
  element: HTMLElement,
  { clientX, clientY }: { readonly clientX: number; readonly clientY: number },
  degrees: number,
): readonly [number, number] {
  // The middle of the upright box about it is its own.
  const box = element.getBoundingClientRect()
  const off = [clientX - box.left - box.width / 2, clientY - box.top - box.height / 2] as const
  const [x, y] = degrees === 0 ? off : turned(...off, -degrees)
  return [0.5 + x / element.offsetWidth, 0.5 + y / element.offsetHeight]
}
