import { useRef, useState } from 'react'
import { ledWay, type Point } from '@/core/paint/led-way'
import { passKind } from '@/core/passes/registry'
import { layersOf } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'
import { usePaint } from './paint-store'

/** How near a contour line has to be to a pen that is to go along it. Sheet pixels per sheet pixel of height. */
const NEAR_LINE = 0.03

/** Passes of lines that the sheet shows, the frontmost first. */
function linePasses(): string[] {
  const { project } = useProjectStore.getState()
  if (!project) return []
  return layersOf(activeSheet(project))
    .filter(({ visible }) => visible)
    .flatMap(({ content }) => {
      if (content.kind !== 'pass') return []
      const pass = project.passes.find(({ id }) => id === content.passId)
      return pass && passKind(pass.kind).lines ? [pass.id] : []
    })
    .reverse()
}

/** The part of a contour line between two places; nothing where none is near. */
async function lineBetween(from: Point, to: Point): Promise<readonly Point[]> {
  const { project } = useProjectStore.getState()
  if (!project) return []
  const passIds = linePasses()
  if (passIds.length === 0)
    throw new Error('There are no lines on the sheet to go along: hang a contour pass.')
  const radius = NEAR_LINE * activeSheet(project).height
  return askSheet(project, (worker) => worker.lineBetween({ passIds, from: [...from], to: [...to], radius }))
}

/**
 * A stroke that is not led by the free hand: it is shown as a line while it is led, and painted at its end.
 * @param onProblem told why there is no way.
 */
export function useLedWay(onProblem: (problem: string) => void) {
  const [way, setWay] = useState<readonly Point[] | null>(null)
  const going = useRef<{
    readonly set: readonly Point[]
    readonly now: Point
    readonly isEven: boolean
  } | null>(null)
  const asking = useRef<Promise<readonly Point[]> | null>(null)

  /** Shows the way as it is now; one question about lines at a time, the last one last. */
  const show = async (): Promise<void> => {
    const { current } = going
    const { lead } = usePaint.getState()
    if (!current) return
    if (lead === 'free') setWay(current.set)
    else if (lead !== 'line') setWay(ledWay(lead, current.set, current.now, current.isEven))
    else if (!asking.current) {
      asking.current = lineBetween(current.set[0], current.now)
      try {
        const found = await asking.current
        if (going.current) setWay(found)
      } catch (error) {
        onProblem(error instanceof Error ? error.message : String(error))
        going.current = null
      }
      asking.current = null
      if (going.current && going.current.now !== current.now) void show()
    }
  }
  const isGoing = (): boolean => going.current !== null
  const set = (place: Point, isEven = false): void => {
    const before = going.current?.set ?? []
    going.current = { set: [...before, place], now: place, isEven }
    void show()
  }
  const move = (places: readonly Point[], isEven: boolean): void => {
    const { current } = going
    const now = places.at(-1)
    if (!current || !now) return
    const isFree = usePaint.getState().lead === 'free'
    going.current = { set: isFree ? [...current.set, ...places] : current.set, now, isEven }
    void show()
  }
  /** @returns the whole way; nothing where there is none. */
  const end = async (): Promise<readonly Point[]> => {
    const { current } = going
    const { lead } = usePaint.getState()
    going.current = null
    setWay(null)
    if (!current) return []
    if (lead === 'free') return current.set
    if (lead !== 'line') return ledWay(lead, current.set, current.now, current.isEven)
    const found = await lineBetween(current.set[0], current.now)
    if (found.length === 0) throw new Error('No contour line is near: begin on one.')
    return found
  }
  const drop = (): void => {
    going.current = null
    setWay(null)
  }
  return { way, isGoing, set, move, end, drop }
}
