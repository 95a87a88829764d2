import { hashJson } from '../../math/stable-hash'
import { printDensity } from '../../mockup/mockup-scene'
import { mockupForm } from '../contents/mockup'
import type { ContentOf } from '../contents/registry'
import type { RenderSize } from '../sheet-resources'
import type { Sheet } from '../sheet-schema'

/** Contents that show another sheet as it is printed on something. */
export type Printed = ContentOf<'mockup'> | ContentOf<'fitted'>

type TrimmedSheet = RenderSize & Pick<Sheet, 'trim'>
const ALL = [0, 0, 1, 1] as const

/** What of a sheet is printed: what is left when it is cut. */
export const trimOf = ({ trim }: Pick<Sheet, 'trim'>): readonly [number, number, number, number] =>
  trim ?? ALL

/** Width over height of what is printed. */
export function printAspect(sheet: TrimmedSheet): number {
  const [left, top, right, below] = trimOf(sheet)
  return (sheet.width * (right - left)) / (sheet.height * (below - top))
}

const known = new WeakMap<Printed, string>()

/** Tells what of a content takes rays; empty where nothing does. */
export function renderedHash(content: Printed): string {
  if (content.kind !== 'mockup') return ''
  const held = known.get(content)
  if (held !== undefined) return held
  const made = hashJson(mockupForm(content))
  known.set(content, made)
  return made
}

/** Sizes that a print is made in go by steps of this: while one looks about, the next picture needs the same. */
const PRINT_STEP = Math.SQRT2

/**
 * Size that a sheet is planned in where it is printed: as large as it is seen where it is seen largest, one of few, and no larger
 * than about the sheet itself.
 * @param view what the picture measures that it is seen in.
 */
export function printSize(content: Printed, sheet: TrimmedSheet, view: RenderSize): RenderSize {
  const { width, height } = sheet
  const aspect = printAspect(sheet)
  const [left, , right] = trimOf(sheet)
  const wide =
    content.kind === 'mockup'
      ? printDensity(mockupForm(content), aspect, view)
      : fittedDensity(content, aspect, view)
  const whole = wide / (right - left)
  const steps = Math.max(-1, Math.floor(Math.log(width / Math.max(16, whole)) / Math.log(PRINT_STEP)))
  const scale = PRINT_STEP ** -steps
  return { width: Math.max(16, Math.round(width * scale)), height: Math.max(16, Math.round(height * scale)) }
}

/** How many pixels a fitted sheet measures across where its sides are longest. */
function fittedDensity(
  { corners, bends }: ContentOf<'fitted'>,
  aspect: number,
  { width, height }: RenderSize,
): number {
  const side = (i: number, j: number) =>
    Math.hypot((corners[i][0] - corners[j][0]) * width, (corners[i][1] - corners[j][1]) * height)
  const bent = Math.max(0, ...bends.map(([x, y]) => Math.hypot(x * width, y * height)))
  return Math.max(side(0, 1), side(3, 2), side(0, 3) * aspect, side(1, 2) * aspect) + 2 * bent
}
