import { useEffect, useRef, useState } from 'react'

/**
 * What is told of a place that the pointer is at; one question at a time, the last one last.
 * @param ask null: nothing is asked. @param about, on what the answer is about: asked anew when either is another.
 * @param isSame whether two answers are one.
 */
export function useAsked<R>(
  ask: ((place: readonly [number, number]) => Promise<R | null>) | null,
  about: string,
  on: object,
  isSame: (a: R, b: R) => boolean,
) {
  const [found, setFound] = useState<R | null>(null)
  const wanted = useRef<readonly [number, number] | null>(null)
  const isAsking = useRef(false)
  const latest = useRef({ ask, isSame })
  useEffect(() => {
    latest.current = { ask, isSame }
  })
  const go = async (): Promise<void> => {
    if (isAsking.current) return
    isAsking.current = true
    try {
      for (let place = wanted.current; place;) {
        const { ask: now, isSame: same } = latest.current
        const answer = now ? await now(place) : null
        setFound((before) => (before && answer && same(before, answer) ? before : answer))
        // Somewhere else meanwhile: once more.
        const next = wanted.current
        place = next === place ? null : next
      }
    } catch {
      setFound(null)
    } finally {
      isAsking.current = false
    }
  }
  // What lies under a pointer that rests is another once the sheet, or what is asked, is.
  useEffect(() => {
    if (latest.current.ask && wanted.current) void go()
  }, [about, on])
  const hover = (place: readonly [number, number] | null): void => {
    wanted.current = place
    if (place && ask) void go()
    else setFound(null)
  }
  return { found: ask ? found : null, hover }
}
