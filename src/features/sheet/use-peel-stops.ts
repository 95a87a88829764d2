import { useEffect, useState, type RefObject } from 'react'

/** Half of what lies between two cards, pixels; see rack-styles.tsx. */
const HALF_GAP = 5

/**
 * Where the peel's handle stands when so many layers are shown, from none on, in pixels from the list's left: in the gap behind
 * the last of them. Measured: trays and panes are as wide as what is in them.
 */
export function usePeelStops(listRef: RefObject<HTMLElement | null>, count: number): readonly number[] {
  const [stops, setStops] = useState<readonly number[]>([0])
  useEffect(() => {
    const list = listRef.current
    if (!list) return
    const measure = () => {
      const ends = [...list.children].flatMap((child) =>
        child instanceof HTMLElement ? [child.offsetLeft + child.offsetWidth + HALF_GAP] : [],
      )
      const next = [0, ...ends]
      setStops((was) => (was.length === next.length && was.every((x, i) => x === next[i]) ? was : next))
    }
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(list)
    return () => observer.disconnect()
  }, [listRef, count])
  return stops
}

/** The stop that lies nearest. */
export const nearestStop = (stops: readonly number[], x: number): number =>
  stops.reduce((best, stop, i) => (Math.abs(stop - x) < Math.abs(stops[best] - x) ? i : best), 0)
