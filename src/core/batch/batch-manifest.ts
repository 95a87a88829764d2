import { z } from 'zod'
import { COLOURS_NOW, type BatchFile } from './batch-plan'

/** What tells whoever takes a set of files over what each of them is. */
export const batchManifestSchema = z.object({
  project: z.string(),
  files: z.array(
    z.object({
      file: z.string(),
      shows: z.enum(['sheet', 'pass', 'turntable']),
      name: z.string(),
      shot: z.string(),
      /** Of a pass. */
      kind: z.string().optional(),
      /** Left out in the colours of the project. */
      scheme: z.string().optional(),
      /** Of a turntable. */
      frame: z.number().int().optional(),
      percent: z.number(),
      width: z.number().int(),
      height: z.number().int(),
    }),
  ),
})
export type BatchManifest = z.infer<typeof batchManifestSchema>

/** @param schemeName what a scheme is called. */
export const batchManifest = (
  project: string,
  files: readonly Omit<BatchFile, 'problem' | 'since'>[],
  schemeName: (id: string) => string,
): BatchManifest => ({
  project,
  files: files.map(({ file, source, scheme, frame, percent, width, height }) => ({
    file,
    shows: source.what === 'turn' ? 'turntable' : source.what,
    name: source.name,
    shot: source.shot,
    ...(source.kind && { kind: source.kind }),
    ...(scheme !== COLOURS_NOW && { scheme: schemeName(scheme) }),
    ...(frame !== null && { frame }),
    percent,
    width,
    height,
  })),
})
