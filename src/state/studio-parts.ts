import { CancelledError, UnreadableFileError } from '@/core/errors'
import { settingTexts } from '@/core/passes/setting-text'
import {
  SEPARATION_MANIFEST,
  separationManifestSchema,
  type SeparationManifest,
} from '@/core/separate/separation-manifest'
import { activeShot } from '@/data/active-shot'
import { lookOnSheet } from '@/data/look-on-sheet'
import type { Project } from '@/data/project-schema'
import { renderingCopy } from '@/data/rendering-copy'
import { packProject } from '@/data/storage-service'
import { studioFile, type StudioJob } from '@/data/studio'
import type { StudioOrder } from '@/data/studio-door'
import { zipTarget } from './batch-targets'
import { flushSave } from './project-store'
import { reflectionLike, type SeparationChoice } from './separate-parts'
import { studioMakes } from './studio'

/** What the command is asked for where a choice of parts is separated: the same pictures as here. */
export function separationOrder(project: Project, choice: SeparationChoice): StudioOrder {
  const { by, pattern, how, shadows, reflections, trim, passId, quality, atlas, scale } = choice
  const pass = project.passes.find(({ id }) => id === passId)
  const kind = pass?.kind ?? 'lit'
  const look = lookOnSheet(project, pass?.id, kind)
  const mirrored = reflectionLike(kind, look)
  const { width, height } = activeShot(project).frame
  return {
    command: 'separate',
    each: by,
    ...(pattern.trim() === '' ? { sets: 'all' } : { parts: pattern }),
    [how]: true,
    pass: pass?.id ?? kind,
    quality,
    size: `${scale * width}x${scale * height}`,
    shadows,
    reflections,
    trim: trim || atlas !== null,
    ...(atlas && { atlas: atlas.side, padding: atlas.padding, bleed: atlas.bleed }),
    set: [
      ...settingTexts(kind, 'lookSchema', look),
      ...(shadows ? ['shadow.density=1'] : []),
      ...(reflections
        ? [
            ...settingTexts('reflection', 'renderSchema', mirrored.params),
            ...settingTexts('reflection', 'lookSchema', mirrored.look),
          ]
        : []),
    ],
  }
}

/**
 * Has parts separated at the studio, into the zip that would have been made here.
 * @throws {CancelledError} when aborted, and it is given up there, too; {Error} in words.
 */
export async function separateAtStudio(
  project: Project,
  choice: SeparationChoice,
  onShare: (share01: number) => void,
  signal: AbortSignal,
): Promise<{ readonly zip: Blob; readonly manifest: SeparationManifest }> {
  try {
    await flushSave()
    const archive = await packProject(renderingCopy(project, project.shotId), signal)
    let files: StudioJob['files'] = []
    await studioMakes(
      archive,
      separationOrder(project, choice),
      { tell: ({ progress = 0 }) => onShare(0.98 * progress), signal },
      async (job) => {
        if (job.state === 'done') files = job.files
      },
    )
    const target = zipTarget()
    let manifest: SeparationManifest | null = null
    for (const { name, url } of files) {
      const content = await studioFile(url, signal)
      if (name === SEPARATION_MANIFEST)
        manifest = separationManifestSchema.parse(JSON.parse(await content.text()))
      await target.write(name, content, false)
    }
    const zip = await target.finish()
    if (!manifest || !zip) throw new UnreadableFileError(SEPARATION_MANIFEST, 'was not sent by the studio')
    return { zip, manifest }
  } catch (error) {
    if (signal.aborted) throw new CancelledError('Separating')
    throw error
  }
}
