import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { UnreadableFileError } from '@/core/errors'
import { readPassExr, writePassExr } from '@/core/formats/pass-exr'
import { readLinePly, writeLinePly } from '@/core/formats/line-ply'
import { passKind } from '@/core/passes/registry'
import type { PassResult } from '@/core/passes/pass-result'
import type { Project, ProjectPass, Rendered } from './project-schema'
import { migrateProject } from './migrate-project'
import { filesOf, projectSchema, validateProject } from './project-schema'

/**
 * A project as one file: a zip of
 * - `project.json`: the project document (docs/project-archive.md describes every field),
 * - `files/{fileId}/{name}`: models and pictures as they were given,
 * - `passes/{resultId}.exr`: the raw channels of every rendered pass that has some,
 * - `passes/{resultId}.ply`: the lines of every rendered pass that has some.
 */
export interface ProjectBundle {
  readonly project: Project
  readonly files: ReadonlyMap<string, { readonly name: string; readonly bytes: Uint8Array }>
  readonly results: ReadonlyMap<string, PassResult>
}

export function writeProjectArchive({ project, files, results }: ProjectBundle): Uint8Array {
  const entries: Record<string, Uint8Array | [Uint8Array, { level: 0 }]> = {
    'project.json': strToU8(JSON.stringify(project, null, 2)),
  }
  for (const [fileId, file] of files)
    entries[`files/${fileId}/${file.name.replace(/[\\/]/g, '_')}`] = file.bytes
  for (const [resultId, result] of results) {
    if (result.channels.length > 0) entries[`passes/${resultId}.exr`] = [writePassExr(result), { level: 0 }]
    if (result.drawing) entries[`passes/${resultId}.ply`] = writeLinePly(result.drawing)
  }
  return zipSync(entries, { level: 6 })
}

/** Largest archive contents accepted, in bytes: a guard against zips that claim to be huge. */
const MAX_UNPACKED = 8 * 2 ** 30

/** @throws {UnreadableFileError} naming the entry or field that is wrong. */
export function readProjectArchive(bytes: Uint8Array, fileName: string): ProjectBundle {
  let entries: Record<string, Uint8Array>
  let claimed = 0
  try {
    entries = unzipSync(bytes, {
      filter: (file) => {
        claimed += file.originalSize
        if (claimed > MAX_UNPACKED) throw new UnreadableFileError(fileName, 'claims to hold more than 8 GB')
        return true
      },
    })
  } catch (cause) {
    if (cause instanceof UnreadableFileError) throw cause
    throw new UnreadableFileError(fileName, 'is not a zip file, or is damaged', { cause })
  }
  const json = entries['project.json']
  if (!json) throw new UnreadableFileError(fileName, 'holds no project.json: it is not a project archive')
  let loose: unknown
  try {
    loose = JSON.parse(strFromU8(json))
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

  const files = new Map<string, { name: string; bytes: Uint8Array }>()
  for (const { fileId, name } of filesOf(project)) {
    const path = `files/${fileId}/${name.replace(/[\\/]/g, '_')}`
    const found = entries[path]
    if (!found) throw new UnreadableFileError(fileName, `${path} is missing from the archive`)
    files.set(fileId, { name, bytes: found })
  }
  const results = new Map<string, PassResult>()
  for (const pass of project.passes) {
    if (!pass.rendered) continue
    results.set(pass.rendered.resultId, readResult(entries, pass, pass.rendered, fileName))
  }
  return { project, files, results }
}

/** A rendered pass of an archive: channels, lines or both, as its kind has them. */
function readResult(
  entries: Readonly<Record<string, Uint8Array>>,
  { kind }: ProjectPass,
  rendered: Rendered,
  fileName: string,
): PassResult {
  const entry = (path: string): Uint8Array => {
    const found = entries[path]
    if (!found) throw new UnreadableFileError(fileName, `${path} is missing from the archive`)
    return found
  }
  const { resultId, width, height, surfaces, lights, params, facts } = rendered
  const pass = passKind(kind)
  let channels: PassResult['channels'] = []
  if (pass.channels(lights, params).length > 0) {
    const path = `passes/${resultId}.exr`
    const read = readPassExr(entry(path), kind, rendered, path)
    if (read.width !== width || read.height !== height)
      throw new UnreadableFileError(fileName, `${path} is not of the size the project states`)
    channels = read.channels
  }
  const path = `passes/${resultId}.ply`
  const drawing = pass.lines ? readLinePly(entry(path), path) : null
  return { kind, width, height, channels, surfaces, lights, params, facts, drawing }
}
