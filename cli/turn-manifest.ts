import path from 'node:path'
import { z } from 'zod'
import { readJson } from './shards'

/** What lies beside numbered pictures: of what turntable they are, and which of its frames are there. */
export const turnManifestSchema = z.object({
  kind: z.literal('turntable frames'),
  version: z.literal(1),
  turn: z.string(),
  /** Made of all that the pictures are made from: equal keys, equal pictures. */
  key: z.string(),
  width: z.number().int().min(1),
  height: z.number().int().min(1),
  /** Frames a second. */
  rate: z.number().positive(),
  /** What its pictures are; 8-bit PNG where it says nothing. */
  format: z.enum(['png', 'png16', 'exr']).default('png'),
  /** Of the whole turntable. */
  frames: z.number().int().min(1),
  /** Which of them were asked for, from and before which; all where it says nothing. */
  asked: z.tuple([z.number().int().min(0), z.number().int().min(1)]).optional(),
  /** Those that are there, in order. */
  written: z.array(z.number().int().min(0)),
})
export type TurnManifest = z.infer<typeof turnManifestSchema>

export const MANIFEST = 'turn.json'

export type FrameFormat = TurnManifest['format']

/** What a frame is called: numbers of at least four digits, from 0. */
export const frameFile = (frame: number, frames: number, format: FrameFormat = 'png'): string =>
  `frame_${String(frame).padStart(Math.max(4, String(frames - 1).length), '0')}.${format === 'exr' ? 'exr' : 'png'}`

/** The manifest of a folder of frames; null where there is none. @throws {UnreadableFileError} naming what is wrong. */
export const readManifest = (folder: string): Promise<TurnManifest | null> =>
  readJson<TurnManifest>(path.join(folder, MANIFEST), turnManifestSchema)
