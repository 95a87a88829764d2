/** Waits for all to end, then fails with what failed first in the list. */
export async function allOf(tasks: readonly Promise<void>[]): Promise<void> {
  const outcomes = await Promise.allSettled(tasks)
  const failed = outcomes.find((o) => o.status === 'rejected')
  if (failed) throw failed.reason
}
