import { z } from 'zod'

/** Pictures after each other, brought in from elsewhere, as a layer of a turntable. */

/** What is seen after the last of them. */
export const AFTER_SEQUENCE = ['nothing', 'hold', 'again', 'back'] as const
export type AfterSequence = (typeof AFTER_SEQUENCE)[number]
/** What stands where a number is missing. */
export const GAPS = ['before', 'nearest', 'nothing'] as const
export type Gap = (typeof GAPS)[number]

/** The most pictures of a sequence. */
export const MOST_SEQUENCE_FRAMES = 20_000

const place = z.number().int().min(0).max(MOST_SEQUENCE_FRAMES)

/** How a sequence goes along with a turntable. */
export const sequenceTimeSchema = z
  .object({
    sequenceId: z.string(),
    /** Pictures a second that it was made for; null: one a frame, whatever the turntable's rate. */
    rate: z.number().min(0.01).max(240).nullable(),
    /** Which of it is played: from one to before another, counted from its first number. */
    from: place,
    to: place,
    reverse: z.boolean(),
    after: z.enum(AFTER_SEQUENCE),
    /** The frame of the turntable at which it begins; before it, nothing of it is seen. */
    begins: z.number().int().min(-72_000).max(72_000),
    gaps: z.enum(GAPS),
  })
  .refine(({ from, to }) => to > from, { path: ['to'], message: 'must come after its beginning' })
export type SequenceTime = z.infer<typeof sequenceTimeSchema>

/** Pictures of sequences, by ids: each the id of its picture, null where a number is missing. */
export type SequencePictures = ReadonlyMap<string, readonly (string | null)[]>

/**
 * The picture of a sequence that is seen in a frame; null where none is.
 * @param pictures from its first number to its last. @param rate of the turntable, frames a second.
 */
export function sequencePicture(
  { rate: own, from, to, reverse, after, begins, gaps }: SequenceTime,
  pictures: readonly (string | null)[],
  frame: number,
  rate: number,
): string | null {
  const count = Math.min(to, pictures.length) - from
  const since = Math.floor(frame) - begins
  if (count <= 0 || since < 0) return null
  // A little more, so that 0.1 · 30 is 3 and not 2.
  const step = Math.floor(own === null ? since : (since * own) / rate + 1e-9)
  let at = step
  if (step >= count) {
    if (after === 'nothing') return null
    if (after === 'hold') at = count - 1
    else if (after === 'again') at = step % count
    else {
      const round = Math.max(1, 2 * count - 2)
      const within = step % round
      at = within < count ? within : round - within
    }
  }
  return bridged(pictures, from + (reverse ? count - 1 - at : at), gaps)
}

/** The picture of a number, or what stands for it where it is missing. */
function bridged(pictures: readonly (string | null)[], at: number, gaps: Gap): string | null {
  const own = pictures[at]
  if (own !== null || gaps === 'nothing') return own
  for (let away = 1; away < pictures.length; away++) {
    const before = pictures[at - away] ?? null
    if (before !== null) return before
    if (gaps === 'before') continue
    const next = pictures[at + away] ?? null
    if (next !== null) return next
  }
  // Nothing comes before the first.
  return pictures.find((picture) => picture !== null) ?? null
}

/** A name of a numbered picture: what stands before and after its number. */
interface Numbered {
  readonly name: string
  readonly stem: string
  readonly number: number
}

function numbered(name: string): Numbered | null {
  const bare = name.replace(/^.*[\\/]/, '')
  const match = /^(.*?)(\d+)(\D*)$/.exec(bare.replace(/\.[^.]+$/, ''))
  if (!match) return null
  const ending = /\.[^.]+$/.exec(bare)?.[0].toLowerCase() ?? ''
  return { name, stem: `${match[1]}#${match[3]}${ending}`, number: Number(match[2]) }
}

/** Numbered pictures that belong together. */
export interface FoundSequence {
  /** Their name, `#` for the number. */
  readonly stem: string
  readonly first: number
  readonly last: number
  /** Names of the files, by number from the first to the last; null where one is missing. */
  readonly files: readonly (string | null)[]
}

/**
 * The sequences among names of files, the longest first: by what stands before and after the last number in each.
 * Files without a number are of none.
 */
export function foundSequences(names: readonly string[]): FoundSequence[] {
  const stems = new Map<string, Numbered[]>()
  for (const name of names) {
    const own = numbered(name)
    if (own) stems.set(own.stem, [...(stems.get(own.stem) ?? []), own])
  }
  const found = [...stems].flatMap(([stem, list]): FoundSequence[] => {
    list.sort((a, b) => a.number - b.number || a.name.localeCompare(b.name, 'en'))
    const [first, last] = [list[0].number, list[list.length - 1].number]
    if (last - first >= MOST_SEQUENCE_FRAMES) return []
    const files = Array.from({ length: last - first + 1 }, (): string | null => null)
    for (const { name, number } of list) files[number - first] ??= name
    return [{ stem, first, last, files }]
  })
  const lengthOf = ({ files }: FoundSequence) => files.filter((name) => name !== null).length
  return found.sort((a, b) => lengthOf(b) - lengthOf(a))
}

/** Numbers that are missing, in words: `4, 7–9`. */
export function missingInWords(files: readonly unknown[], first: number): string {
  const runs: [number, number][] = []
  files.forEach((file, i) => {
    if (file !== null) return
    const run = runs.at(-1)
    if (run && run[1] === first + i - 1) run[1] = first + i
    else runs.push([first + i, first + i])
  })
  return runs.map(([a, b]) => (a === b ? String(a) : `${a}–${b}`)).join(', ')
}

/**
 * Whether the colours of a picture were multiplied by its alpha: where something is half clear, none is lighter than that.
 * @param pixels straight as they were read, RGBA, 0…1. @returns null where nothing tells: all is solid or clear.
 */
export function isPremultiplied(pixels: ArrayLike<number>): boolean | null {
  let half = 0
  for (let i = 0; i < pixels.length; i += 4) {
    const alpha = pixels[i + 3]
    const light = Math.max(pixels[i], pixels[i + 1], pixels[i + 2])
    // Rounding to 8 bits may lift a colour by half a step.
    if (light > alpha + 0.5 / 255) return false
    if (alpha > 2 / 255 && alpha < 253 / 255) half++
  }
  return half > 0 ? true : null
}
