import { copyFile } from 'node:fs/promises'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'
import { parseOptions, wholeNumber } from './arguments'
import { filmEnding, writeFilm } from './film'
import { joinRenders, readRenderShard, RENDER_SHARD } from './render-shard'
import { isSeparationShard, joinSeparations } from './separation-shard'
import { frameFile, MANIFEST, readManifest } from './turn-manifest'
import { UsageError } from './usage-error'
import { refuseExisting, withFolders, writeWhole } from './write-file'

/** `relief join`: what several machines made, as one run would have written it: frames or a film, passes, separations. */
export async function join(argv: readonly string[]): Promise<void> {
  const { values, positionals: folders } = parseOptions(argv, {
    out: { type: 'string' },
    plays: { type: 'string' },
    overwrite: { type: 'boolean' },
  })
  const { out } = values
  if (folders.length === 0 || !out)
    throw new UsageError('relief join DIR… --out DIR|FILE.gif|.apng|.webp|.mp4|.webm')
  const plays = values.plays === undefined ? 0 : wholeNumber(values.plays, 'plays', 0, 10_000)

  if (await isSeparationShard(folders[0])) return joinSeparations(folders, out, values.overwrite ?? false)
  if (await readRenderShard(folders[0])) return joinRenders(folders, out, values.overwrite ?? false)

  // 1. Whether they belong together, and are all of it.
  const parts = await Promise.all(
    folders.map(async (folder) => {
      const manifest = await readManifest(folder)
      if (!manifest)
        throw new UnreadableFileError(
          folder,
          `holds neither ${MANIFEST} nor ${RENDER_SHARD}: it is no folder of a shard`,
        )
      return { folder, manifest }
    }),
  )
  const [{ manifest: first }] = parts
  for (const { folder, manifest } of parts)
    if (manifest.key !== first.key)
      throw new UnreadableFileError(folder, `holds frames of something else than ${folders[0]}`)
  const sources = new Map<number, string>()
  for (const { folder, manifest } of parts)
    for (const frame of manifest.written) if (!sources.has(frame)) sources.set(frame, folder)
  const asked = parts.map(({ manifest }) => manifest.asked ?? ([0, manifest.frames] as const))
  const from = Math.min(...asked.map(([begin]) => begin))
  const to = Math.max(...asked.map(([, end]) => end))
  const missing = Array.from({ length: to - from }, (_, i) => from + i).filter((frame) => !sources.has(frame))
  if (missing.length > 0)
    throw new UnreadableFileError(
      folders.join(', '),
      `${missing.length} of ${to - from} frames are missing, the first of them ${missing[0]}`,
    )

  // 2. As a film, from where they lie.
  const film = filmEnding(out)
  if (film && first.format === 'exr')
    throw new UnreadableFileError(folders[0], 'holds .exr files: films are made of .png')
  if (film) {
    await refuseExisting(out, values.overwrite ?? false)
    const { width, height, rate, frames } = first
    const folderOf = (frame: number) => sources.get(frame) ?? folders[0]
    await withFolders([out], () =>
      writeFilm({ folderOf, from, to, plays, frames, rate, width, height }, out, film),
    )
    return
  }

  // 3. Copied, never moved: what was handed in stays.
  const files = [...sources.keys()].map((frame) =>
    path.join(out, frameFile(frame, first.frames, first.format)),
  )
  for (const file of files) await refuseExisting(file, values.overwrite ?? false)
  await withFolders([path.join(out, MANIFEST)], async () => {
    for (const [frame, folder] of sources) {
      const name = frameFile(frame, first.frames, first.format)
      try {
        await copyFile(path.join(folder, name), path.join(out, name))
      } catch (cause) {
        throw new UnreadableFileError(path.join(folder, name), 'cannot be read', { cause })
      }
    }
    const written = [...sources.keys()].sort((a, b) => a - b)
    await writeWhole(
      path.join(out, MANIFEST),
      JSON.stringify({ ...first, asked: [from, to], written }) + '\n',
    )
  })
}
