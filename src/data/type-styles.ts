import { typeStyleSchema, type TypeStyle } from '@/core/type/type-style'
import { paramControls } from '@/core/params'
import type { TypeBlock } from '@/core/sheet/contents/type'
import type { Project, TypeStyleEntry } from './project-schema'

/** Ways to set type that blocks share. */

interface PageSize {
  readonly width: number
  readonly height: number
}

const CONTROLS = paramControls(typeStyleSchema)
/** What of a block each page has for itself: a style says nothing of it. */
const OWN = new Set(['columns'])

/** How much longer a length is on one page than on another. */
const ratio = (to: PageSize, from: PageSize): number =>
  Math.sqrt((to.width * to.height) / (from.width * from.height))

/** A style's values with their lengths as they are on a page. */
export function styleOn({ style, page }: TypeStyleEntry, on: PageSize): Partial<TypeStyle> {
  const by = ratio(on, page)
  return Object.fromEntries(
    CONTROLS.filter(({ name }) => !OWN.has(name)).map((control) => {
      const value = style[control.name as keyof TypeStyle]
      if (control.control !== 'number' || control.unit !== 'px' || typeof value !== 'number')
        return [control.name, structuredClone(value)]
      const scaled = Math.round(value * by * 100) / 100
      return [control.name, Math.min(control.max, Math.max(control.min, scaled))]
    }),
  ) as Partial<TypeStyle>
}

/** The style of a block, under a name. */
export const styleOf = (id: string, name: string, block: TypeBlock, page: PageSize): TypeStyleEntry => ({
  id,
  name,
  page: { width: page.width, height: page.height },
  fontId: block.fontId,
  axes: { ...block.axes },
  style: structuredClone(
    Object.fromEntries(CONTROLS.map((control) => [control.name, block[control.name as keyof TypeBlock]])),
  ) as TypeStyle,
})

/** Sets a block in a style, in place. */
export function setIn(block: TypeBlock, entry: TypeStyleEntry, page: PageSize): void {
  Object.assign(block, styleOn(entry, page), {
    fontId: entry.fontId,
    axes: { ...entry.axes },
    styleId: entry.id,
  })
}

/** What of a block differs from its style, as words; null for one without a style. */
export function styleDifferences(
  { typeStyles }: Pick<Project, 'typeStyles'>,
  block: TypeBlock,
  page: PageSize,
): readonly string[] | null {
  const entry = typeStyles.find(({ id }) => id === block.styleId)
  if (!entry) return null
  const wanted = styleOn(entry, page)
  const changed = CONTROLS.filter(({ name }) => {
    if (!(name in wanted)) return false
    const [own, other] = [block[name as keyof TypeBlock], wanted[name as keyof TypeStyle]]
    return typeof own === 'number' && typeof other === 'number'
      ? Math.abs(own - other) > 0.02 * Math.max(1, Math.abs(other))
      : JSON.stringify(own) !== JSON.stringify(other)
  }).map(({ label }) => label)
  return entry.fontId === block.fontId ? changed : ['Family', ...changed]
}
