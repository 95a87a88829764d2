import { hasContent, type SheetNode } from '@/core/sheet/sheet-schema'
import type { SequencePictures } from '@/core/turn/sequence'
import type { Project, StoredSequence } from './project-schema'

type Owned = Pick<Project, 'pictures' | 'sequences'>
interface PictureFile {
  readonly name: string
  readonly fileId: string
}

const files = new WeakMap<
  Owned['pictures'],
  { readonly sequences: Owned['sequences']; readonly byId: ReadonlyMap<string, PictureFile> }
>()

/** The file of a picture: of one of the project's, or of one in a sequence, which goes by its file. Null for another. */
export function pictureFile({ pictures, sequences }: Owned, id: string): PictureFile | null {
  let held = files.get(pictures)
  if (held?.sequences !== sequences) {
    const byId = new Map<string, PictureFile>()
    for (const { frames } of sequences) for (const frame of frames) byId.set(frame.fileId, frame)
    for (const picture of pictures) byId.set(picture.id, picture)
    held = { sequences, byId }
    files.set(pictures, held)
  }
  return held.byId.get(id) ?? null
}

const known = new WeakMap<readonly StoredSequence[], SequencePictures>()

/** Pictures of all sequences of a project, by number from the first; null where one is missing. */
export function sequencePictures({ sequences }: Pick<Project, 'sequences'>): SequencePictures {
  let made = known.get(sequences)
  if (!made) known.set(sequences, (made = new Map(sequences.map((own) => [own.id, picturesOf(own)]))))
  return made
}

/** Pictures of a sequence by number, from its first; null where one is missing. */
export function picturesOf({ first, frames }: StoredSequence): (string | null)[] {
  const last = frames.reduce((most, { number }) => Math.max(most, number), first)
  const list = Array.from({ length: last - first + 1 }, (): string | null => null)
  for (const { number, fileId } of frames) list[number - first] = fileId
  return list
}

/** All pictures of a project: those of sequences go by their files. */
export const allPictures = ({ pictures, sequences }: Owned): Owned['pictures'] => [
  ...pictures,
  ...sequences.flatMap(({ frames }) => frames.map(({ name, fileId }) => ({ id: fileId, name, fileId }))),
]

/** A layer as it is for a still: elsewhere there is no sequence for it to go along with. */
export function asStill(node: SheetNode): SheetNode {
  if (!hasContent(node, 'picture') || !node.content.sequence) return node
  const { sequence: _sequence, ...content } = node.content
  return { ...node, content }
}
