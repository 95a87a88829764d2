import { movable } from './answer-requests'

/** What newer engines offer; the core is checked against the library of an older one. */
interface Detachable {
  readonly transfer?: (length: number) => ArrayBuffer
}

/**
 * Frees the memory of arrays that are of no use any more at once: left to the collector, gigabytes of large pictures pile
 * up before it comes. The arrays are empty afterwards.
 */
export function release(values: Iterable<unknown>): void {
  for (const buffer of new Set(movable(values))) (buffer as Detachable).transfer?.(0)
}
