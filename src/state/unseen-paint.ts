/** The most painted tiles that a worker keeps though no sheet shows them: undoing goes back to them. 48 MB of them. */
export const MOST_UNSEEN = 384

/**
 * What of the painted tiles a worker holds it lets go of: those that no sheet has shown for longest.
 * @param held by the worker. @param wanted by the sheets that are shown. @param owed to storage, where they do not lie yet.
 * @param unseen those that were not wanted at the last call, the longest first; brought up to this one.
 * @returns names that were not wanted at the last call either: no sheet that the worker has names them any more.
 */
export function overduePaint(
  held: ReadonlySet<string>,
  wanted: ReadonlySet<string>,
  owed: ReadonlySet<string>,
  unseen: Set<string>,
): string[] {
  const isUnseen = (name: string) => !wanted.has(name) && !owed.has(name)
  const still = [...unseen].filter((name) => held.has(name) && isUnseen(name))
  const overdue = still.slice(0, Math.max(0, still.length - MOST_UNSEEN))
  const gone = new Set(overdue)
  unseen.clear()
  for (const name of still) if (!gone.has(name)) unseen.add(name)
  for (const name of held) if (isUnseen(name) && !gone.has(name)) unseen.add(name)
  return overdue
}
