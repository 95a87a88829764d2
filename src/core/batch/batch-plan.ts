import { fromPattern, unknownWords } from '../formats/name-pattern'
import { PASS_FORMATS, type PassFormat } from '../formats/pass-file'
import { MAX_PICTURE_SIDE } from '../scene/camera'
import { SHEET_FORMATS, sheetFormatExtensions, type SheetFormat } from '../sheet/export-sheet'

/** Many files in one press: what becomes a file, under which names, and what stands in the way. */

/** A sheet or a pass that may become a file. */
export interface BatchSource {
  readonly what: 'sheet' | 'pass'
  readonly id: string
  readonly name: string
  readonly shot: string
  readonly width: number
  readonly height: number
}

export interface BatchChoice {
  /** Ids of sheets and passes. */
  readonly chosen: readonly string[]
  /** Of their own size, for sheets; passes are as they were rendered. */
  readonly percents: readonly number[]
  readonly sheetFormat: SheetFormat
  readonly passFormat: PassFormat
  /** See {@link BATCH_WORDS}. */
  readonly pattern: string
}

export const BATCH_WORDS = [
  'project',
  'shot',
  'name',
  'kind',
  'percent',
  'width',
  'height',
  'version',
] as const

/** What files may be for, and how they are made then. */
export const PURPOSES: Readonly<
  Record<string, { readonly label: string; readonly choice: Omit<BatchChoice, 'chosen'> }>
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

export interface BatchFile {
  /** With folders, below where it goes. */
  readonly file: string
  readonly source: BatchSource
  readonly percent: number
  readonly width: number
  readonly height: number
  /** Why it cannot be written; null: it can. */
  readonly problem: string | null
}

const versionWord = (version: number): string => `v${String(version).padStart(3, '0')}`

/** What is wrong with a choice as a whole; null where nothing is. */
export function choiceProblem({ pattern, percents, chosen }: BatchChoice): string | null {
  if (chosen.length === 0) return 'Choose a sheet or a pass.'
  const steps = pattern.split('/')
  if (steps.some((step) => step.trim() === '' || /^\.+$/.test(step.trim())))
    return 'The name is a file name, or folders and one.'
  const unknown = unknownWords(pattern, BATCH_WORDS)
  if (unknown.length > 0)
    return `The name has no word {${unknown[0]}}: there are ${BATCH_WORDS.map((word) => `{${word}}`).join(', ')}.`
  if (percents.length === 0) return 'Choose a size.'
  return null
}

/**
 * The files of a choice, in the order of the sources.
 * @param version what `{version}` stands for.
 * @param isThere whether a file is there already where they go.
 */
export function batchFiles(
  project: string,
  sources: readonly BatchSource[],
  choice: BatchChoice,
  version: number,
  isThere: (file: string) => boolean = () => false,
): BatchFile[] {
  const { chosen, percents, sheetFormat, passFormat, pattern } = choice
  const planned = sources
    .filter(({ id }) => chosen.includes(id))
    .flatMap((source) =>
      (source.what === 'sheet' ? percents : [100]).map((percent) => {
        const width = Math.max(1, Math.round((source.width * percent) / 100))
        const height = Math.max(1, Math.round((source.height * percent) / 100))
        const words = {
          project,
          shot: source.shot,
          name: source.name,
          kind: source.what === 'sheet' ? 'sheets' : 'passes',
          percent: String(percent),
          width: String(width),
          height: String(height),
          version: versionWord(version),
        }
        const ending =
          source.what === 'sheet' ? sheetFormatExtensions[sheetFormat] : passFormat === 'exr' ? 'exr' : 'png'
        return { file: `${fromPattern(pattern, words)}.${ending}`, source, percent, width, height }
      }),
    )
  // On some systems large and small letters are the same.
  const counts = new Map<string, number>()
  for (const { file } of planned) counts.set(file.toLowerCase(), (counts.get(file.toLowerCase()) ?? 0) + 1)
  return planned.map((own) => ({
    ...own,
    problem:
      (counts.get(own.file.toLowerCase()) ?? 0) > 1
        ? 'another has the same name'
        : Math.max(own.width, own.height) > MAX_PICTURE_SIDE
          ? `larger than ${MAX_PICTURE_SIDE} pixels a side`
          : isThere(own.file)
            ? 'is there already'
            : null,
  }))
}

/** The first version of which no file is there yet: what is kept is never written over. */
export function nextVersion(
  project: string,
  sources: readonly BatchSource[],
  choice: BatchChoice,
  isThere: (file: string) => boolean,
): number {
  if (!choice.pattern.includes('{version}')) return 1
  for (let version = 1; ; version++)
    if (!batchFiles(project, sources, choice, version).some(({ file }) => isThere(file))) return version
}

export const isSheetFormat = (text: string): text is SheetFormat =>
  (SHEET_FORMATS as readonly string[]).includes(text)
export const isPassFormat = (text: string): text is PassFormat =>
  (PASS_FORMATS as readonly string[]).includes(text)
