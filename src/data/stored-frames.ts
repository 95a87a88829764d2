import { database } from './database'

/**
 * Frames of turntables as they were rendered, each under a name made of all that it shows: what was undone and done again is
 * there at once. They can be made anew, so they are not part of an archive, and the oldest make room.
 */

const frameKey = (projectId: string, name: string): string => `${projectId}/${name}`

/** Keeps a frame. @param picture a PNG file. */
export async function saveFrame(projectId: string, name: string, picture: Blob): Promise<void> {
  await database.frames.put({
    key: frameKey(projectId, name),
    projectId,
    at: Date.now(),
    size: picture.size,
    picture,
  })
}

/** A frame as a PNG file; null where it is not there. */
export const loadFrame = async (projectId: string, name: string): Promise<Blob | null> =>
  (await database.frames.get(frameKey(projectId, name)))?.picture ?? null

/** Names of the frames of a project that are there. */
export async function framesThere(projectId: string): Promise<Set<string>> {
  const keys = await database.frames.where('projectId').equals(projectId).primaryKeys()
  return new Set(keys.map((key) => key.slice(projectId.length + 1)))
}

/** Most bytes of frames that no turntable shows as it is now. */
const KEPT_BYTES = 768e6

/**
 * Drops frames of a project that none of its turntables shows any more: the oldest, until the rest is no more than a given amount.
 * @param wanted names of those that stay. @returns names of those that are gone.
 */
export async function tidyFrames(
  projectId: string,
  wanted: ReadonlySet<string>,
  keptBytes = KEPT_BYTES,
): Promise<string[]> {
  const gone: string[] = []
  await database.transaction('rw', database.frames, async () => {
    const range = database.frames
      .where('[projectId+at+size]')
      .between([projectId, -Infinity, -Infinity], [projectId, Infinity, Infinity])
    // Both in the order of the index, without the pictures.
    const keys = await range.primaryKeys()
    const sizes = (await range.keys()).map((entry) => (Array.isArray(entry) ? Number(entry[2]) : 0))
    let room = keptBytes
    for (let i = keys.length - 1; i >= 0; i--) {
      const name = keys[i].slice(projectId.length + 1)
      if (wanted.has(name)) continue
      room -= sizes[i]
      if (room < 0) gone.push(name)
    }
    await database.frames.bulkDelete(gone.map((name) => frameKey(projectId, name)))
  })
  return gone
}
