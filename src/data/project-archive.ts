import { ZipWriter, Uint8ArrayReader, Uint8ArrayWriter, type EntryMetaData } from '@zip.js/zip.js'
import { UnreadableFileError } from '@/core/errors'
import { readPassExr, writePassExr } from '@/core/formats/pass-exr'
import { readLinePly, writeLinePly } from '@/core/formats/line-ply'
import { ARCHIVE_ZIP, bytesSource, ZipFile, type ByteSource } from '@/core/formats/zip-file'
import { passKind } from '@/core/passes/registry'
import type { PassResult } from '@/core/passes/pass-result'
import type { Project, ProjectPass, Rendered } from './project-schema'
import { contentName } from '@/core/content-name'
import type { PaintForm } from '@/core/paint/paint-names'
import { readTile, tileFileName, writeTile } from '@/core/paint/tile-file'
import { migrateProject } from './migrate-project'
import { sheetsWithLooks } from './poster-series'
import { paintOf } from './stored-paint'
import { filesOf, projectSchema, validateProject } from './project-schema'

/**
 * A project as one file: a zip of
 * - `project.json`: the project document (docs/project-archive.md describes every field),
 * - `files/{fileId}/{name}`: models and pictures as they were given,
 * - `passes/{resultId}.exr`: the raw channels of every rendered pass that has some,
 * - `passes/{resultId}.ply`: the lines of every rendered pass that has some,
 * - `paint/{name}.png`: every tile that was painted by hand,
 * - `looks/{sheetId}.png`: how pages and mock-ups of posters looked, small, where that is known.
 * Both ways it is streamed: one of its files is in memory at a time, so that it may be larger than that.
 */
export interface ProjectBundle {
  readonly project: Project
  readonly files: ReadonlyMap<string, NamedFile>
  readonly results: ReadonlyMap<string, PassResult>
  /** Tiles that were painted by hand, by their names. */
  readonly paint?: ReadonlyMap<string, Uint8Array<ArrayBuffer>>
}

export interface NamedFile {
  readonly name: string
  readonly bytes: Uint8Array
}

/** A project and where its bulk comes from, piece by piece. */
export interface ProjectSource {
  readonly project: Project
  readonly file: (fileId: string) => Promise<NamedFile>
  /** Null where it is gone: the pass then goes out as not rendered. */
  readonly result: (pass: ProjectPass, rendered: Rendered) => Promise<PassResult | null>
  /** A tile that was painted by hand; null where it is gone. */
  readonly paint: (name: string, form: PaintForm) => Promise<Uint8Array<ArrayBuffer> | null>
  /** How a page or a mock-up looked; null where nobody knows. */
  readonly look?: (sheetId: string) => Promise<Uint8Array | null>
}

const lookPath = (sheetId: string): string => `looks/${encodeURIComponent(sheetId)}.png`
const paintPath = (name: string): string => `paint/${tileFileName(name)}`
const filePath = (fileId: string, name: string): string => `files/${fileId}/${name.replace(/[\\/]/g, '_')}`

/** What is compressed already, or does not compress. */
const STORED = { level: 0 } as const

/** The same project is the same bytes, whenever it is packed: what is named by its content is then found again. */
const UNDATED = { lastModDate: new Date(1980, 0, 1), extendedTimestamp: false }

/**
 * Writes a project's archive into a stream.
 * @param onProgress told how many of its files are written, 0…1.
 */
export async function streamProjectArchive(
  source: ProjectSource,
  out: WritableStream<Uint8Array>,
  onProgress: (share01: number) => void = () => undefined,
): Promise<void> {
  const zip = new ZipWriter(out, UNDATED)
  const { project } = source
  const files = filesOf(project)
  const rendered = project.passes.filter((pass) => pass.rendered)
  const painted = paintOf([project])
  const total = files.length + rendered.length + painted.size + 1
  let done = 0
  const add = (name: string, bytes: Uint8Array, options = {}): Promise<EntryMetaData> =>
    zip.add(name, new Uint8ArrayReader(bytes), options)
  const tell = () => onProgress(++done / total)
  const written = new Set<string>()
  for (const { fileId } of files) {
    if (!written.has(fileId)) {
      written.add(fileId)
      const { name, bytes } = await source.file(fileId)
      await add(filePath(fileId, name), bytes)
    }
    tell()
  }
  const gone = new Set<string>()
  for (const pass of rendered) {
    const result = pass.rendered && (await source.result(pass, pass.rendered))
    if (!pass.rendered || !result) gone.add(pass.id)
    else {
      const path = `passes/${pass.rendered.resultId}`
      if (result.channels.length > 0) await add(`${path}.exr`, writePassExr(result), STORED)
      if (result.drawing) await add(`${path}.ply`, writeLinePly(result.drawing))
    }
    tell()
  }
  for (const [name, form] of painted) {
    const bytes = await source.paint(name, form)
    if (bytes) await add(paintPath(name), writeTile(bytes, form), STORED)
    tell()
  }
  for (const sheetId of sheetsWithLooks(project)) {
    const bytes = (await source.look?.(sheetId)) ?? null
    if (bytes) await add(lookPath(sheetId), bytes, STORED)
  }
  const passes = project.passes.map((pass) => (gone.has(pass.id) ? { ...pass, rendered: null } : pass))
  const document = JSON.stringify({ ...project, passes, before: undefined }, null, 2)
  await add('project.json', new TextEncoder().encode(document))
  await zip.close()
  tell()
}

/** A whole archive in memory, for small ones. */
export async function writeProjectArchive({
  project,
  files,
  results,
  paint,
}: ProjectBundle): Promise<Uint8Array<ArrayBuffer>> {
  const writer = new Uint8ArrayWriter()
  await writer.init?.()
  const source: ProjectSource = {
    project,
    file: async (fileId) => {
      const found = files.get(fileId)
      if (!found) throw new UnreadableFileError(fileId, 'is not among the files of the project')
      return found
    },
    result: async (_pass, { resultId }) => results.get(resultId) ?? null,
    paint: async (name) => paint?.get(name) ?? null,
  }
  await streamProjectArchive(source, writer.writable)
  return writer.getData()
}

/** An archive whose document was found sound; its bulk is read when it is asked for. */
export interface OpenArchive {
  readonly project: Project
  /** @throws {UnreadableFileError} naming the entry. */
  readonly file: (fileId: string) => Promise<NamedFile>
  readonly result: (pass: ProjectPass, rendered: Rendered) => Promise<PassResult>
  /** Null where it is not in the archive: nothing is then seen of it. */
  readonly paint: (name: string, form: PaintForm) => Promise<Uint8Array<ArrayBuffer> | null>
  readonly look: (sheetId: string) => Promise<Uint8Array | null>
}

/**
 * Reads and checks an archive's directory and document, and that all it names is in it.
 * @throws {UnreadableFileError} naming the entry or field that is wrong.
 */
export const openProjectArchive = async (source: ByteSource, fileName: string): Promise<OpenArchive> =>
  openProjectEntries(await ZipFile.open(source, fileName, ARCHIVE_ZIP), fileName)

/** What an archive, or a folder that one was unpacked to, holds under names. */
export interface ArchiveEntries {
  readonly has: (name: string) => boolean
  /** @throws {UnreadableFileError} naming the entry. */
  readonly read: (name: string) => Promise<Uint8Array>
  /** Whether given files may be missing as long as nobody asks for them. */
  readonly isPartial?: boolean
}

/** The same of what was unpacked already. */
export async function openProjectEntries(zip: ArchiveEntries, fileName: string): Promise<OpenArchive> {
  if (!zip.has('project.json'))
    throw new UnreadableFileError(fileName, 'holds no project.json: it is not a project archive')
  let loose: unknown
  const json = await zip.read('project.json')
  try {
    loose = JSON.parse(new TextDecoder().decode(json))
  } catch (cause) {
    throw new UnreadableFileError(fileName, 'its project.json cannot be parsed', { cause })
  }
  const parsed = projectSchema.safeParse(migrateProject(loose))
  if (!parsed.success) {
    const issue = parsed.error.issues[0]
    throw new UnreadableFileError(fileName, `project.json: ${issue.path.join('.')}: ${issue.message}`)
  }
  const project = parsed.data
  const problems = validateProject(project)
  if (problems.length > 0) throw new UnreadableFileError(fileName, `project.json: ${problems[0]}`)

  const names = new Map(filesOf(project).map(({ fileId, name }) => [fileId, name]))
  const needed = zip.isPartial ? [] : [...names].map(([fileId, name]) => filePath(fileId, name))
  for (const pass of project.passes) if (pass.rendered) needed.push(...resultPaths(pass, pass.rendered))
  const missing = needed.find((path) => !zip.has(path))
  if (missing !== undefined) throw new UnreadableFileError(fileName, `${missing} is missing from the archive`)
  return {
    project,
    file: async (fileId) => {
      const name = names.get(fileId)
      if (name === undefined) throw new UnreadableFileError(fileName, `its project names no file ${fileId}`)
      return { name, bytes: await zip.read(filePath(fileId, name)) }
    },
    result: (pass, rendered) => readResult(zip, pass, rendered),
    paint: async (name, form) => {
      const path = paintPath(name)
      if (!zip.has(path)) return null
      const bytes = readTile(await zip.read(path), form, path)
      // Under another's name it would be shown in the other's place.
      if ((await contentName(bytes)) !== name)
        throw new UnreadableFileError(path, 'does not hold what its name says')
      return bytes
    },
    look: async (sheetId) => {
      const path = lookPath(sheetId)
      return zip.has(path) ? pngOnly(await zip.read(path)) : null
    },
  }
}

/** The largest of a look's files that is taken. */
const MOST_LOOK_BYTES = 4 * 2 ** 20
const PNG_BEGIN = [0x89, 0x50, 0x4e, 0x47]

/** A small PNG; null for anything else: a look can be made again. */
const pngOnly = (bytes: Uint8Array): Uint8Array | null =>
  bytes.length <= MOST_LOOK_BYTES && PNG_BEGIN.every((byte, i) => bytes[i] === byte) ? bytes : null

/** Entries that hold a rendered pass: channels, lines or both, as its kind has them. */
function resultPaths({ kind }: ProjectPass, { resultId, lights, params }: Rendered): string[] {
  const pass = passKind(kind)
  return [
    ...(pass.channels(lights, params).length > 0 ? [`passes/${resultId}.exr`] : []),
    ...(pass.lines ? [`passes/${resultId}.ply`] : []),
  ]
}

/** A whole archive in memory, for small ones. @throws as {@link openProjectArchive}, and where a pass is damaged. */
export async function readProjectArchive(bytes: Uint8Array, fileName: string): Promise<ProjectBundle> {
  const archive = await openProjectArchive(bytesSource(bytes), fileName)
  const files = new Map<string, NamedFile>()
  for (const { fileId } of filesOf(archive.project)) files.set(fileId, await archive.file(fileId))
  const results = new Map<string, PassResult>()
  for (const pass of archive.project.passes)
    if (pass.rendered) results.set(pass.rendered.resultId, await archive.result(pass, pass.rendered))
  const paint = new Map<string, Uint8Array<ArrayBuffer>>()
  for (const [name, form] of paintOf([archive.project])) {
    const bytes = await archive.paint(name, form)
    if (bytes) paint.set(name, bytes)
  }
  return { project: archive.project, files, results, paint }
}

async function readResult(
  zip: ArchiveEntries,
  { kind }: ProjectPass,
  rendered: Rendered,
): Promise<PassResult> {
  const { resultId, width, height, surfaces, lights, params, facts } = rendered
  const pass = passKind(kind)
  let channels: PassResult['channels'] = []
  if (pass.channels(lights, params).length > 0) {
    const path = `passes/${resultId}.exr`
    channels = readPassExr(await zip.read(path), kind, rendered, path, { width, height }).channels
  }
  const path = `passes/${resultId}.ply`
  const drawing = pass.lines ? readLinePly(await zip.read(path), path) : null
  return { kind, width, height, channels, surfaces, lights, params, facts, drawing }
}
