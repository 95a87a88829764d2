import { plural } from '@/core/plural'
import { orderOf } from '@/data/pass-render'
import { newId } from '@/data/new-project'
import { dropResult } from '@/data/stored-results'
import type { Project, ProjectPass, Quality } from '@/data/project-schema'
import { renderingCopy } from '@/data/rendering-copy'
import { packProject, storeBundle } from '@/data/storage-service'
import { studioFile, type StudioJob } from '@/data/studio'
import { holdProject, letGoOf } from './project-lock'
import { ProjectRender } from './project-render'
import { flushSave } from './project-store'
import { atStudio, studioMakes } from './studio'

/**
 * Has passes of one shot rendered at the studio and takes them over when they are whole. A pass that is changed or removed meanwhile
 * is told of as any that was rendered before the change.
 */
export const renderPassesAtStudio = (
  project: Project,
  passIds: readonly string[],
  quality: Quality,
): Promise<void> =>
  atStudio(
    passIds.join(),
    `${plural(passIds.length, 'pass', 'passes')}, ${quality}`,
    async (tell, signal) => {
      if (!(await holdProject(project.id, 'studio', { patienceMs: 0 })))
        throw new Error('another tab has this project')
      try {
        await flushSave()
        const render = new ProjectRender({
          projectId: project.id,
          passIds,
          quality,
          first: null,
          keepsBefore: false,
        })
        const { passes } = await render.plan()
        const { shot } = render.now
        const archive = await packProject(renderingCopy(render.now.project, shot.id), signal)
        // Noise is smoothed on whole pictures: those are not dealt out.
        const groups = [false, true].flatMap((denoise) => {
          const own = passes.filter(({ order }) => (order.denoise ?? false) === denoise)
          return own.length > 0 ? [{ denoise, own }] : []
        })
        for (const [i, { denoise, own }] of groups.entries()) {
          const order = {
            command: 'render',
            passes: own.map(({ id }) => id),
            quality,
            format: 'bundle',
            name: '{pass}',
            ...(denoise && { denoise }),
          }
          const part = (progress: number) => (i + progress) / groups.length
          let done: StudioJob['files'] = []
          await studioMakes(
            archive,
            order,
            { tell: (patch) => tell({ ...patch, progress: part(patch.progress ?? 0) }), signal },
            async (job) => {
              if (job.state === 'done') done = job.files
            },
          )
          for (const planned of own) {
            const file = done.find(({ name }) => name === `${planned.id}.zip`)
            const { name } = render.passOf(planned)
            if (!file) throw new Error(`it sent no ${name}`)
            const resultId = newId()
            const bundle = await studioFile(file.url, signal)
            const made = await storeBundle(project.id, resultId, name, bundle, {
              kind: planned.order.kind,
              ...shot.frame,
            })
            try {
              await render.note(planned, resultId, made)
            } catch (error) {
              await dropResult(project.id, resultId)
              throw error
            }
          }
          await render.settle()
        }
      } finally {
        letGoOf(project.id, 'studio')
      }
    },
  )

/** About how long passes take here and there. Seconds; null where nothing is known yet. */
export interface TimeNeeded {
  readonly here: number | null
  readonly there: number | null
}

/**
 * What passes will take, from what they took when they were rendered last: rays go with samples, rays of each, and pixels.
 * @param raysPerSecond of the studio. @param threads of this machine.
 */
export function timeNeeded(
  project: Project,
  passes: readonly ProjectPass[],
  quality: Quality,
  raysPerSecond: number | null,
  threads: number,
): TimeNeeded {
  let [seconds, rays] = [0, 0]
  for (const pass of passes) {
    const { rendered } = pass
    const shot = project.shots.find(({ id }) => id === pass.shotId)
    if (!rendered || !shot) return { here: null, there: null }
    const { effort } = orderOf(project, pass, quality)
    const before = orderOf(project, pass, rendered.quality).effort
    const cost = ({ samples, rays: own }: { readonly samples: number; readonly rays: number }) =>
      samples * Math.max(1, own)
    const pixels = (shot.frame.width * shot.frame.height) / (rendered.width * rendered.height)
    const share = (cost(effort) / cost({ ...before, samples: rendered.samples })) * pixels
    seconds += rendered.seconds * share
    rays += rendered.rays * share
  }
  return { here: seconds / threads, there: raysPerSecond === null ? null : rays / raysPerSecond }
}
