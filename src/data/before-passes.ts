import type { Project, ProjectPass } from './project-schema'

/** Passes as they were before one thing was rendered again: kept beside those of now until both were compared. */

/** The id under which what a pass was is known to sheets. */
export const beforeId = (passId: string): string => `before ${passId}`

/** A pass as it is now, to be kept beside what comes of it. */
export const asBefore = <P extends Pick<ProjectPass, 'id' | 'name'>>(pass: P): P => ({
  ...pass,
  id: beforeId(pass.id),
  name: `${pass.name}, before`,
})

/** What a pass was; null where nothing is kept of it. */
export const beforeOf = (
  { before }: Pick<Project, 'before'>,
  passId: string,
): Project['before'][number] | null => before.find(({ id }) => id === beforeId(passId)) ?? null

/** Passes of the shot at work of which it is kept what they were, as large as they are now. */
export const comparedPasses = <P extends Pick<Project, 'passes' | 'before' | 'shotId'>>(
  project: P,
): P['passes'][number][] =>
  project.passes.filter(({ id, shotId, rendered }) => {
    const was = shotId === project.shotId ? beforeOf(project, id)?.rendered : null
    return was && was.width === rendered?.width && was.height === rendered.height
  })
