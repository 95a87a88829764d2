/** Room in the browser's storage, asked for before large work begins rather than found missing at its end. */

/** Less than this is not worth asking about. Bytes. */
const SMALL = 8 * 2 ** 20

/** An amount of data in words. */
export const amountText = (bytes: number): string =>
  bytes < 1e9 ? `${Math.max(1, Math.round(bytes / 1e6))} MB` : `${(bytes / 1e9).toFixed(1)} GB`

/**
 * Asks whether the browser has room left. One that does not tell is taken at its word when it comes to storing.
 * @param what that needs the room, as the beginning of a sentence. @param bytes it will take, about.
 * @throws {Error} in words an artist can act on.
 */
export async function ensureRoom(what: string, bytes: number): Promise<void> {
  if (bytes < SMALL || typeof navigator === 'undefined' || !('storage' in navigator)) return
  const { quota, usage = 0 } = await navigator.storage.estimate().catch(() => ({}) as StorageEstimate)
  if (quota === undefined || quota - usage >= bytes) return
  throw new Error(
    `${what} takes about ${amountText(bytes)} of storage, and the browser has ${quota > usage ? amountText(quota - usage) : 'nothing'} left. Export projects as archives and delete those you no longer need.`,
  )
}
