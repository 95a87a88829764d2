import { z } from 'zod'
import type { PenSample } from '@/core/paint/stroke-walker'
import {
  readSamples,
  SAMPLE_NUMBERS,
  strokeSchema,
  writeSamples,
  type Stroke,
} from '@/engine/stroke-messages'

/**
 * The stroke that is being painted, as its pen told of it: a tab that ends in the middle of it loses no more than its last
 * moments. The same samples give the same stroke.
 */
export interface NotedStroke {
  readonly projectId: string
  readonly stroke: Stroke
  readonly samples: readonly PenSample[]
}

const KEY = 'muted-relief stroke'
/** How often it is written down. Milliseconds. */
const EVERY_MS = 150
/** The longest that is noted, in numbers. */
const MOST_NUMBERS = 120_000

const notedSchema = z.object({ projectId: z.string(), stroke: strokeSchema, numbers: z.array(z.number()) })
/** Strokes that were not at their end, the oldest first; before there could be several, the one. */
const journalSchema = z.union([
  z.object({ strokes: z.array(notedSchema) }).transform(({ strokes }) => strokes),
  notedSchema.transform((one) => [one]),
])

/** Strokes that are being painted, or whose paint is being stored, by their numbers. */
const notes = new Map<number, NotedStroke>()
let timer: ReturnType<typeof setInterval> | null = null

/** Writes down the strokes that are being painted as they are now. */
export function writeNoted(): void {
  if (notes.size === 0 || typeof localStorage === 'undefined') return
  const strokes = [...notes.values()].map(({ projectId, stroke, samples }) => ({
    projectId,
    stroke,
    numbers: [...writeSamples(samples.slice(0, MOST_NUMBERS / SAMPLE_NUMBERS))].map(
      (v) => Math.round(1000 * v) / 1000,
    ),
  }))
  try {
    localStorage.setItem(KEY, JSON.stringify({ strokes }))
  } catch {
    // Without room for it a stroke that is cut is lost; one that ends is not.
  }
}

/** Notes a stroke that is being painted, again and again as its samples grow; null: it is part of the document. */
export function noteStroke(number: number, stroke: NotedStroke | null): void {
  if (stroke) notes.set(number, stroke)
  else notes.delete(number)
  if (notes.size > 0) {
    timer ??= setInterval(writeNoted, EVERY_MS)
    writeNoted()
    return
  }
  if (timer) clearInterval(timer)
  timer = null
  if (typeof localStorage !== 'undefined') localStorage.removeItem(KEY)
}

/** Strokes of a project that were noted and never came to their end, the oldest first; they are forgotten by that. */
export function takeNoted(projectId: string): NotedStroke[] {
  if (typeof localStorage === 'undefined' || notes.size > 0) return []
  const text = localStorage.getItem(KEY)
  if (text === null) return []
  try {
    const found = journalSchema.parse(JSON.parse(text))
    if (found.some((own) => own.projectId !== projectId)) return []
    localStorage.removeItem(KEY)
    return found.map(({ stroke, numbers }) => ({
      projectId,
      stroke,
      samples: readSamples(Float64Array.from(numbers)),
    }))
  } catch {
    localStorage.removeItem(KEY)
    return []
  }
}
