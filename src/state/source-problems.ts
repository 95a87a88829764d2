import { create } from 'zustand'
import { paintNames } from '@/core/paint/paint-names'
import { contentUses } from '@/core/sheet/contents/registry'
import type { SheetNode } from '@/core/sheet/sheet-schema'

/** Passes and pictures of the open project whose stored content cannot be used, by id, with the reason in words. */
export const useSourceProblems = create<Readonly<Record<string, string>>>(() => ({}))

/** Puts what was found in place of what was known; nothing is told again that was told already. */
export function setSourceProblems(found: ReadonlyMap<string, string>): void {
  const known = useSourceProblems.getState()
  const isSame =
    Object.keys(known).length === found.size && [...found].every(([id, reason]) => known[id] === reason)
  if (!isSame) useSourceProblems.setState(Object.fromEntries(found), true)
}

/** What a tile that was painted is called among them. */
export const paintProblemId = (name: string): string => `paint ${name}`

/** Why what a layer shows cannot be shown as it should be, in words; nothing where it can. */
export function layerProblem(
  layer: SheetNode,
  problems: Readonly<Record<string, string>>,
): string | undefined {
  const own = problems[contentUses(layer.content)[0] ?? ''] as string | undefined
  if (own !== undefined || Object.keys(problems).length === 0) return own
  for (const name of paintNames([{ nodes: { [layer.id]: layer } }]).keys()) {
    const gone = problems[paintProblemId(name)] as string | undefined
    if (gone !== undefined) return gone
  }
  return undefined
}
