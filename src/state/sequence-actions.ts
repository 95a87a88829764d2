import type { Draft } from 'immer'
import { CancelledError } from '@/core/errors'
import { laidOut } from '@/core/sheet/picture-box'
import { newLayer, wholePicture } from '@/core/sheet/new-layer'
import { insertNode } from '@/core/sheet/sheet-tree'
import { foundSequences, missingInWords, type SequenceTime } from '@/core/turn/sequence'
import { takeFilmFile } from '@/data/film-service'
import { newId } from '@/data/new-project'
import type { ProjectSheet, StoredSequence } from '@/data/project-schema'
import { picturesOf } from '@/data/project-pictures'
import { storeFile } from '@/data/storage-service'
import { longWork } from './long-work'
import { changeProject, useProjectStore } from './project-store'
import { sheetService } from './sheet-sync'
import { activeTurn } from './turn-actions'
import { setBench, useViewStore } from './view-store'

/** A sequence as it came in. */
interface Taken {
  readonly sequence: StoredSequence
  readonly rate: number | null
  readonly isPremultiplied: boolean
  /** What was noticed, in words. */
  readonly notes: readonly string[]
}

const FILM = /\.(mp4|m4v|mov|webm|mkv|gif|apng|webp)$/i

/**
 * Brings in numbered pictures, or a film, as a layer of the turntable at work.
 * @returns what was noticed of them, in words; null when it was cancelled or nothing came in.
 * @throws {Error} naming the file that cannot be read or stored.
 */
export async function addSequence(files: readonly File[]): Promise<readonly string[] | null> {
  const { project } = useProjectStore.getState()
  const turn = project && activeTurn(project, useViewStore.getState().turnId)
  if (!project || !turn || files.length === 0) return null
  const isFilm = files.length === 1 && FILM.test(files[0].name)
  const taken = await longWork(`Bringing in ${files[0].name}`, (signal, tell) =>
    isFilm ? takeFilm(project.id, files[0], signal, tell) : takeNumbered(project.id, files, signal, tell),
  )
  const now = useProjectStore.getState().project
  if (!taken || now?.id !== project.id) return null
  const { sequence, rate, isPremultiplied, notes } = taken
  const pictures = picturesOf(sequence)
  const time: SequenceTime = {
    sequenceId: sequence.id,
    rate,
    from: 0,
    to: pictures.length,
    reverse: false,
    after: 'hold',
    begins: 0,
    gaps: 'before',
  }
  const layerId = newId()
  changeProject(`bring in ${sequence.name}`, (draft) => {
    const sheet = draft.sheets.find(({ id }) => id === turn.sheetId)
    if (!sheet) return
    const content = {
      ...wholePicture(sequence.frames[0].fileId),
      ...laidOut(sequence, sheet as ProjectSheet, 'whole'),
      ...(isPremultiplied && { premultiplied: true }),
      sequence: time,
    }
    draft.sequences.push(sequence as Draft<StoredSequence>)
    insertNode(sheet, newLayer({ id: layerId, name: sequence.name, content }), {
      parent: null,
      index: Infinity,
    })
  })
  setBench({ laneId: layerId })
  const sheet = now.sheets.find(({ id }) => id === turn.sheetId)
  return [...notes, ...sizeNotes(sequence, sheet)]
}

/** What is to be said of the size of a sequence: nothing where it fits the sheet pixel by pixel. */
function sizeNotes({ width, height }: StoredSequence, sheet: ProjectSheet | undefined): string[] {
  if (!sheet || (sheet.width === width && sheet.height === height)) return []
  const isAlike = Math.abs(width / height / (sheet.width / sheet.height) - 1) < 0.002
  return [
    `it measures ${width} × ${height}, the sheet ${sheet.width} × ${sheet.height}: ${isAlike ? 'it was scaled' : 'it was scaled to lie in it, and leaves a border'}`,
  ]
}

type Tell = (share01: number) => void

async function takeFilm(projectId: string, file: File, signal: AbortSignal, tell: Tell): Promise<Taken> {
  const film = await takeFilmFile(projectId, file, signal, tell)
  const frames = film.frames.map((frame, number) => ({ number, ...frame }))
  const { width, height, rate } = film
  const name = file.name.replace(/\.[^.]+$/, '')
  return {
    sequence: { id: newId(), name, width, height, first: 0, frames },
    rate,
    // What a browser unfolds is straight.
    isPremultiplied: false,
    notes: [`${frames.length} pictures, ${Number(rate.toFixed(3))} a second`],
  }
}

async function takeNumbered(
  projectId: string,
  files: readonly File[],
  signal: AbortSignal,
  tell: Tell,
): Promise<Taken> {
  const [found, ...others] = foundSequences(files.map(({ name }) => name)) as (
    ReturnType<typeof foundSequences>[number] | undefined
  )[]
  if (!found) throw new Error(`${files[0].name} has no number: pictures of a sequence have one`)
  const byName = new Map(files.map((file) => [file.name, file]))
  const names = found.files.flatMap((name) => name ?? [])
  let size: { readonly width: number; readonly height: number } | null = null
  let alpha: boolean | null = null
  const frames: StoredSequence['frames'] = []
  const otherSizes: string[] = []
  for (const [i, name] of found.files.entries()) {
    const file = name === null ? null : byName.get(name)
    if (!file) continue
    if (signal.aborted) throw new CancelledError(file.name)
    const bytes = new Uint8Array(await file.arrayBuffer())
    const { width, height, premultiplied } = await sheetService().checkPicture(file.name, bytes)
    size ??= { width, height }
    if (size.width !== width || size.height !== height) {
      // One that is larger or smaller would jump: it is left out like one that is missing.
      otherSizes.push(`${file.name} (${width} × ${height})`)
      continue
    }
    // One picture that cannot be premultiplied tells it of all.
    if (premultiplied !== null) alpha = premultiplied && alpha !== false
    const fileId = newId()
    await storeFile(projectId, fileId, file.name, bytes)
    frames.push({ number: found.first + i, name: file.name, fileId })
    tell(frames.length / names.length)
  }
  if (!size || frames.length === 0) throw new Error(`${files[0].name}: none of its pictures could be used`)
  const kept = new Set(frames.map(({ number }) => number))
  const missing = missingInWords(
    found.files.map((name, i) => (name !== null && kept.has(found.first + i) ? name : null)),
    found.first,
  )
  const few = (list: readonly string[]) =>
    list.length > 3 ? `${list.slice(0, 3).join(', ')} and ${list.length - 3} more` : list.join(', ')
  return {
    sequence: {
      id: newId(),
      name: found.stem.replace(/\.[^.]+$/, '').replace(/[_\s.-]*#[_\s.-]*/, '') || 'Sequence',
      ...size,
      first: found.first,
      frames,
    },
    rate: null,
    isPremultiplied: alpha === true,
    notes: [
      `${frames.length} pictures, ${found.first} to ${found.last}`,
      ...(missing ? [`missing: ${missing}`] : []),
      ...(otherSizes.length > 0
        ? [`left out, because not ${size.width} × ${size.height}: ${few(otherSizes)}`]
        : []),
      ...(others.length > 0
        ? [`other sequences among them were left: ${few(others.map((o) => o?.stem ?? ''))}`]
        : []),
      ...(alpha === true ? ['its colours are multiplied by its alpha'] : []),
    ],
  }
}
