import type { Project } from './project-schema'

/**
 * What of a project a render of its passes depends on: what is painted, laid out or written of it makes it no other scene.
 * @param shotId the shot to be at work in it.
 */
export function renderingCopy(project: Project, shotId: string): Project {
  const lit = new Set(
    project.rigs.flatMap(({ lights }) =>
      lights.flatMap((light) => (light.kind === 'dome' ? [light.pictureId] : [])),
    ),
  )
  return {
    ...project,
    shotId,
    passes: project.passes
      .filter((pass) => pass.shotId === shotId)
      .map((pass) => ({ ...pass, rendered: null })),
    before: [],
    pictures: project.pictures.filter(({ id }) => lit.has(id)),
    sequences: project.sequences.filter(({ frames }) => frames.some(({ fileId }) => lit.has(fileId))),
    references: [],
    // Every shot has a sheet, an empty one.
    sheets: project.shots.flatMap((shot) =>
      project.sheets
        .filter(({ id }) => id === shot.sheetId)
        .map(({ page: _page, mockupOf: _mockupOf, ...sheet }) => ({ ...sheet, roots: [], nodes: {} })),
    ),
    posters: [],
    typeStyles: [],
    fonts: [],
    kept: [],
    turns: [],
    handOver: { choice: null, written: [] },
  }
}
