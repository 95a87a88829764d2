import { create } from 'zustand'

/** Passes and pictures of the open project whose stored content cannot be used, by id, with the reason in words. */
export const useSourceProblems = create<Readonly<Record<string, string>>>(() => ({}))

/** Puts what was found in place of what was known; nothing is told again that was told already. */
export function setSourceProblems(found: ReadonlyMap<string, string>): void {
  const known = useSourceProblems.getState()
  const isSame =
    Object.keys(known).length === found.size && [...found].every(([id, reason]) => known[id] === reason)
  if (!isSame) useSourceProblems.setState(Object.fromEntries(found), true)
}
