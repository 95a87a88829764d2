import { z } from 'zod'
import { fromPattern, unknownWords } from '../formats/name-pattern'
import { PASS_FORMATS, type PassFormat } from '../formats/pass-file'
import type { PassKindName } from '../passes/registry'
import { MAX_PICTURE_SIDE } from '../scene/camera'
import { SHEET_FORMATS, sheetFormatExtensions } from '../sheet/export-sheet'

/** Many files in one press: what becomes a file, under which names, and what stands in the way. */

/** A sheet, a pass or a turntable that may become files. */
export interface BatchSource {
  readonly what: 'sheet' | 'pass' | 'turn'
  readonly id: string
  readonly name: string
  readonly shot: string
  /** As large as it is by itself, pixels. */
  readonly width: number
  readonly height: number
  /** Of a pass. */
  readonly kind?: PassKindName
  /** Whether a pass was rendered: what was not, is rendered for its file. */
  readonly isRendered?: boolean
  /** Of a turntable. */
  readonly frames?: number
}

/** The scheme that stands for the colours of now. */
export const COLOURS_NOW = ''

export const batchChoiceSchema = z.object({
  /** Ids of sheets, passes and turntables. */
  chosen: z.array(z.string()).max(10_000),
  /** Of their own size; frames of a turntable are as they were rendered. */
  percents: z.array(z.number().min(1).max(1600)).max(32),
  /** Ids of colour schemes, and {@link COLOURS_NOW}. */
  schemes: z.array(z.string()).max(1000).default([COLOURS_NOW]),
  /** Of turntables; see {@link framesNamed}. */
  frames: z.string().max(200).default('all'),
  sheetFormat: z.enum(SHEET_FORMATS),
  passFormat: z.enum(PASS_FORMATS),
  /** See {@link BATCH_WORDS}. */
  pattern: z.string().max(200),
  /** Whether numbers may leave in a form that cuts them. */
  allowsLoss: z.boolean().default(false),
  /** Whether only what is another than when it was last written is written. */
  onlyChanged: z.boolean().default(false),
  /** Whether files that were written from this project before may be written over once what they show is another. */
  replaces: z.boolean().default(false),
  /** Whether a list of them comes along; see `batchManifest`. */
  hasManifest: z.boolean().default(false),
})
/** What is to become files, and how. */
export type BatchChoice = z.infer<typeof batchChoiceSchema>

/** A choice without what belongs to one project: a purpose to choose by. */
export const batchPurposeSchema = batchChoiceSchema.pick({
  percents: true,
  sheetFormat: true,
  passFormat: true,
  pattern: true,
  allowsLoss: true,
})
export type BatchPurpose = z.infer<typeof batchPurposeSchema>

export const BATCH_WORDS = [
  'project',
  'shot',
  'name',
  'kind',
  'scheme',
  'percent',
  'width',
  'height',
  'frame',
  'version',
] as const

/** What files may be for, and how they are made then. */
export const PURPOSES: Readonly<
  Record<string, { readonly label: string; readonly choice: Omit<BatchPurpose, 'allowsLoss'> }>
> = {
  screen: {
    label: 'Screen',
    choice: { percents: [100], sheetFormat: 'png8', passFormat: 'png', pattern: '{project}_{name}' },
  },
  print: {
    label: 'Print',
    choice: {
      percents: [200],
      sheetFormat: 'png16',
      passFormat: 'png16',
      pattern: '{project}_{name}_{width}x{height}_{version}',
    },
  },
  game: {
    label: 'Game, at three sizes',
    choice: {
      percents: [100, 200, 300],
      sheetFormat: 'png8',
      passFormat: 'png',
      pattern: '{percent}/{name}',
    },
  },
  reel: {
    label: 'Reel, with layers',
    choice: {
      percents: [100],
      sheetFormat: 'ora',
      passFormat: 'png16',
      pattern: '{project}/{shot}/{kind}/{name}_{scheme}_{version}',
    },
  },
  lines: {
    label: 'Line art, large',
    choice: {
      percents: [400],
      sheetFormat: 'png16',
      passFormat: 'png16',
      pattern: '{project}_{name}_lines_{width}x{height}',
    },
  },
  data: {
    label: 'Data, without loss',
    choice: {
      percents: [100],
      sheetFormat: 'png16',
      passFormat: 'exr',
      pattern: '{shot}/{kind}/{name}_{version}',
    },
  },
}

/** Passes that are numbers more than pictures: in a form that cuts them they are of no use to who reads them. */
const NUMBERS: readonly PassKindName[] = ['depth', 'normal']

export interface BatchFile {
  /** With folders, below where it goes. */
  readonly file: string
  readonly source: BatchSource
  readonly percent: number
  /** Id of the scheme it is coloured by, {@link COLOURS_NOW} for none. */
  readonly scheme: string
  /** Of a turntable; null for what stands still. */
  readonly frame: number | null
  readonly width: number
  readonly height: number
  /** Why it cannot be written; null: it can. */
  readonly problem: string | null
  /** How it stands to what was written before. */
  readonly since: 'new' | 'changed' | 'as it was'
}

/** What tells one file of a project from another, however it is called. */
export const fileIdentity = (
  { source, percent, scheme, frame }: Pick<BatchFile, 'source' | 'percent' | 'scheme' | 'frame'>,
  { sheetFormat, passFormat }: Pick<BatchChoice, 'sheetFormat' | 'passFormat'>,
): string =>
  [
    source.what,
    source.id,
    percent,
    scheme,
    frame ?? '',
    source.what === 'sheet' ? sheetFormat : source.what === 'pass' ? passFormat : 'png8',
  ].join(' ')

/**
 * Frames that a text names: `all`, or numbers and ranges of them in commas (`0,10-20`), counted from 0.
 * @returns each once, rising; null where the text names none of the frames there are.
 */
export function framesNamed(text: string, count: number): number[] | null {
  const asked = text.trim().toLowerCase()
  if (asked === 'all' || asked === '') return Array.from({ length: count }, (_, i) => i)
  const named = new Set<number>()
  for (const piece of asked.split(',')) {
    const match = /^\s*(\d{1,6})(?:\s*-\s*(\d{1,6}))?\s*$/.exec(piece)
    const from = Number(match?.[1])
    const to = match?.[2] === undefined ? from : Number(match[2])
    if (!match || to < from || to >= count) return null
    for (let frame = from; frame <= to; frame++) named.add(frame)
  }
  return [...named].sort((a, b) => a - b)
}

const versionWord = (version: number): string => `v${String(version).padStart(3, '0')}`

/** What is wrong with a choice as a whole; null where nothing is. */
export function choiceProblem(
  { pattern, percents, chosen, schemes, frames }: BatchChoice,
  sources: readonly BatchSource[] = [],
): string | null {
  const own = sources.filter(({ id }) => chosen.includes(id))
  if (chosen.length === 0) return 'Choose a sheet, a pass or a turntable.'
  const steps = pattern.split('/')
  if (steps.some((step) => step.trim() === '' || /^\.+$/.test(step.trim())))
    return 'The name is a file name, or folders and one.'
  const unknown = unknownWords(pattern, BATCH_WORDS)
  if (unknown.length > 0)
    return `The name has no word {${unknown[0]}}: there are ${BATCH_WORDS.map((word) => `{${word}}`).join(', ')}.`
  if (percents.length === 0) return 'Choose a size.'
  if (schemes.length === 0) return 'Choose the colours of now, or a scheme.'
  for (const { name, frames: count } of own)
    if (count !== undefined && !framesNamed(frames, count))
      return `Frames of ${name} are all, or numbers and ranges within 0-${count - 1}.`
  return null
}

/** What is known where files go, and of those written before. */
export interface BatchBefore {
  /** Whether a file is there already where they go. */
  readonly isThere?: (file: string) => boolean
  /** What a scheme is called. */
  readonly schemeName?: (id: string) => string
  /** How what a file shows stands to what the one of its identity showed that was written last. */
  readonly since?: (file: Omit<BatchFile, 'problem' | 'since'>) => BatchFile['since']
  /** Whether a file of that name was written from this project. */
  readonly isOwn?: (file: string) => boolean
  /** What a file wants that is not there, in words; null: nothing. */
  readonly missing?: (file: Omit<BatchFile, 'problem'>) => string | null
}

/**
 * The files of a choice, in the order of the sources.
 * @param version what `{version}` stands for.
 */
export function batchFiles(
  project: string,
  sources: readonly BatchSource[],
  choice: BatchChoice,
  version: number,
  before: BatchBefore = {},
): BatchFile[] {
  const { since = () => 'new' as const } = before
  const chosen = new Set(choice.chosen)
  const all = sources
    .filter(({ id }) => chosen.has(id))
    .flatMap((source) => variantsOf(source, choice))
    .map((own) => {
      const made = { ...own, file: nameOf(project, own, choice, version, before) }
      return { ...made, since: since(made) }
    })
  const planned = choice.onlyChanged ? all.filter((own) => own.since !== 'as it was') : all
  // On some systems large and small letters are the same.
  const counts = new Map<string, number>()
  for (const { file } of planned) counts.set(file.toLowerCase(), (counts.get(file.toLowerCase()) ?? 0) + 1)
  return planned.map((own) => ({
    ...own,
    problem:
      (counts.get(own.file.toLowerCase()) ?? 0) > 1
        ? 'another has the same name'
        : problemOf(own, choice, before),
  }))
}

type Variant = Pick<BatchFile, 'source' | 'percent' | 'scheme' | 'frame' | 'width' | 'height'>

/** Everything that one source becomes. */
function variantsOf(source: BatchSource, { percents, schemes, frames }: BatchChoice): Variant[] {
  const { width, height } = source
  if (source.what === 'turn')
    return (framesNamed(frames, source.frames ?? 0) ?? []).map((frame) => ({
      source,
      percent: 100,
      scheme: COLOURS_NOW,
      frame,
      width,
      height,
    }))
  return percents.flatMap((percent) =>
    schemes.map((scheme) => ({
      source,
      percent,
      scheme,
      frame: null,
      width: Math.max(1, Math.round((width * percent) / 100)),
      height: Math.max(1, Math.round((height * percent) / 100)),
    })),
  )
}

const KIND_WORDS: Readonly<Record<BatchSource['what'], string>> = {
  sheet: 'sheets',
  pass: 'passes',
  turn: 'frames',
}

function nameOf(
  project: string,
  { source, percent, scheme, frame, width, height }: Variant,
  { pattern, sheetFormat, passFormat }: BatchChoice,
  version: number,
  { schemeName }: BatchBefore,
): string {
  const words = {
    project,
    shot: source.shot,
    name: source.name,
    kind: KIND_WORDS[source.what],
    scheme: scheme === COLOURS_NOW ? 'now' : (schemeName?.(scheme) ?? scheme),
    percent: String(percent),
    width: String(width),
    height: String(height),
    frame: frame === null ? 'still' : String(frame).padStart(4, '0'),
    version: versionWord(version),
  }
  // Frames of a turntable are told apart whether the pattern says how or not.
  const whole = frame !== null && !pattern.includes('{frame}') ? `${pattern}_{frame}` : pattern
  const ending =
    source.what === 'sheet'
      ? sheetFormatExtensions[sheetFormat]
      : source.what === 'pass' && passFormat === 'exr'
        ? 'exr'
        : 'png'
  return `${fromPattern(whole, words)}.${ending}`
}

function problemOf(
  own: Omit<BatchFile, 'problem'>,
  { passFormat, allowsLoss, replaces }: BatchChoice,
  { isThere, isOwn, missing }: BatchBefore,
): string | null {
  const { file, source, width, height, since } = own
  if (Math.max(width, height) > MAX_PICTURE_SIDE) return `larger than ${MAX_PICTURE_SIDE} pixels a side`
  if (source.kind && NUMBERS.includes(source.kind) && passFormat !== 'exr' && !allowsLoss)
    return 'its numbers would be cut: EXR keeps them'
  const lacks = missing?.(own) ?? null
  if (lacks !== null || !isThere?.(file)) return lacks
  return replaces && since === 'changed' && isOwn?.(file) ? null : 'is there already'
}

/** The first version of which no file is there yet: what is kept is never written over. */
export function nextVersion(
  project: string,
  sources: readonly BatchSource[],
  choice: BatchChoice,
  before: BatchBefore,
): number {
  if (!choice.pattern.includes('{version}')) return 1
  for (let version = 1; ; version++)
    if (!batchFiles(project, sources, choice, version, before).some(({ file }) => before.isThere?.(file)))
      return version
}

export const isSheetFormat = (text: string): text is BatchChoice['sheetFormat'] =>
  (SHEET_FORMATS as readonly string[]).includes(text)
export const isPassFormat = (text: string): text is PassFormat =>
  (PASS_FORMATS as readonly string[]).includes(text)
