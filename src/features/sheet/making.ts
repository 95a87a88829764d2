import type { Sheet, SheetNode } from '@/core/sheet/sheet-schema'
import { blendDefinitions } from '@/core/sheet/blend-modes'
import { setBench } from '@/state/view-store'

/** How a sheet came to be: gone through from the back, a layer at a time, with what was noted of each. */

type Stack = Pick<Sheet, 'roots' | 'nodes'>

/** How many layers from the back are shown at each stop: one for each layer that is seen. */
export const makingStops = ({ roots, nodes }: Stack): readonly number[] =>
  roots.flatMap((id, i) => (nodes[id].visible ? [i + 1] : []))

/** The stop before or after what is shown, or where there is none the one that is nearest. */
export function stopBeside(stops: readonly number[], shown: number, by: 1 | -1): number {
  const beyond = by > 0 ? stops.find((stop) => stop > shown) : stops.filter((stop) => stop < shown).at(-1)
  return beyond ?? (by > 0 ? stops.at(-1) : stops[0]) ?? shown
}

/** The layer that came last of those that are shown; undefined where none is. */
export const lastShown = ({ roots, nodes }: Stack, shown: number): SheetNode | undefined => {
  const id = roots
    .slice(0, shown)
    .filter((own) => nodes[own].visible)
    .at(-1)
  return id === undefined ? undefined : nodes[id]
}

/** How a layer lies on those beneath it, in words. */
export const liesIn = ({ mode, opacity, mask, gate }: SheetNode): string =>
  [
    blendDefinitions[mode].label,
    opacity < 1 && `${Math.round(100 * opacity)} %`,
    mask && 'masked',
    gate && 'by tone',
  ]
    .filter(Boolean)
    .join(', ')

/** Shows the layers from the back up to one, which is then at work. */
export function showStop(stack: Stack, stop: number): void {
  const layer = lastShown(stack, stop)
  setBench({ peel: stop >= stack.roots.length ? Infinity : stop, layerId: layer?.id ?? null })
}

/** Begins with the layer that lies at the back. */
export function beginMaking(stack: Stack): void {
  const [first] = makingStops(stack)
  if (first === undefined) return
  setBench({ isMaking: true })
  showStop(stack, first)
}

/** Puts all back. */
export const endMaking = (): void => setBench({ isMaking: false, peel: Infinity })
