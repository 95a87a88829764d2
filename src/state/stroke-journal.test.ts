import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { BRUSH_DEFAULTS } from '@/core/paint/brush'
import type { Stroke } from '@/engine/stroke-messages'
import { noteStroke, takeNoted, writeNoted } from './stroke-journal'

const stored = new Map<string, string>()
beforeEach(() => {
  stored.clear()
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => void stored.set(key, value),
    removeItem: (key: string) => void stored.delete(key),
  })
})
afterEach(() => {
  noteStroke(1, null)
  noteStroke(2, null)
  vi.unstubAllGlobals()
})

const stroke = (seed: number): Stroke => ({
  place: { layerId: 'paint', term: null },
  brush: { tip: 'chalk', seed: 1, params: BRUSH_DEFAULTS },
  act: { kind: 'paint', rgb: [0.1, 0.2, 0.3] },
  within: null,
  mirrors: { x: null, y: null },
  seed,
})
const moment = (x: number) => ({ x, y: 2, pressure: 0.5, tiltX: 1, tiltY: -2, twist: 3, at: 4 * x })
/** What another tab finds that begins now: this one knows of strokes of its own. */
function found(projectId: string) {
  const text = stored.get('muted-relief stroke')
  noteStroke(1, null)
  noteStroke(2, null)
  if (text !== undefined) stored.set('muted-relief stroke', text)
  return takeNoted(projectId)
}

it('finds strokes that were cut off in the order they were begun, with all that the pen told', () => {
  const samples = [moment(1)]
  noteStroke(1, { projectId: 'p', stroke: stroke(1), samples })
  // The second begins while the first is being stored.
  noteStroke(2, { projectId: 'p', stroke: stroke(2), samples: [moment(7)] })
  samples.push(moment(2))
  writeNoted()
  const noted = found('p')
  expect(noted.map((own) => own.stroke.seed)).toEqual([1, 2])
  expect(noted[0].samples).toEqual([moment(1), moment(2)])
  expect(noted[1].samples).toEqual([moment(7)])
  // Once.
  expect(takeNoted('p')).toEqual([])
})

it('forgets what came to its end, and keeps what did not', () => {
  noteStroke(1, { projectId: 'p', stroke: stroke(1), samples: [moment(1)] })
  noteStroke(2, { projectId: 'p', stroke: stroke(2), samples: [moment(2)] })
  noteStroke(1, null)
  expect(found('p').map((own) => own.stroke.seed)).toEqual([2])
  noteStroke(1, { projectId: 'p', stroke: stroke(1), samples: [moment(1)] })
  noteStroke(1, null)
  expect(stored.size).toBe(0)
})

it('leaves strokes of another project alone, and those of a tab that is painting', () => {
  noteStroke(1, { projectId: 'p', stroke: stroke(1), samples: [moment(1)] })
  expect(takeNoted('p')).toEqual([])
  expect(found('other')).toEqual([])
  expect(takeNoted('p')).toHaveLength(1)
})

it('reads what was noted when there could be one alone, and drops what cannot be read', () => {
  const numbers = [1, 2, 0.5, 1, -2, 3, 4]
  stored.set('muted-relief stroke', JSON.stringify({ projectId: 'p', stroke: stroke(9), numbers }))
  expect(takeNoted('p')).toMatchObject([{ stroke: { seed: 9 }, samples: [moment(1)] }])
  stored.set('muted-relief stroke', '{"strokes":[{}]}')
  expect(takeNoted('p')).toEqual([])
  expect(stored.size).toBe(0)
})
