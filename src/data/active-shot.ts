import type { Rig } from '@/core/scene/light-rig'
import type { BesideSheets, Project, ProjectPass, ProjectSheet, Shot } from './project-schema'

/** The shot at work and what belongs to it. The schema and `validateProject` see to it that all of these are there. */

type HasShots = Pick<Project, 'shots' | 'shotId'>

export const activeShot = <P extends HasShots>(project: P): P['shots'][number] =>
  project.shots.find((shot) => shot.id === project.shotId) ?? project.shots[0]

/** The sheet at work: that of the shot at work which was at work last. One truth for all who ask. */
export const activeSheet = <P extends HasShots & Pick<Project, 'sheets'>>(
  project: P,
): P['sheets'][number] => {
  const { id, sheetId } = activeShot(project)
  const own = project.sheets.find((sheet: ProjectSheet) => sheet.id === sheetId && sheet.shotId === id)
  return own ?? sheetsOf(project, id)[0] ?? project.sheets[0]
}

/** Sheets of a shot; pages of posters are none. */
export const sheetsOf = <P extends Pick<Project, 'sheets'>>(
  project: P,
  shotId: string,
): P['sheets'][number][] =>
  project.sheets.filter(
    (sheet: ProjectSheet) => sheet.shotId === shotId && !sheet.page && sheet.mockupOf === undefined,
  )

export const passesOf = (project: Pick<Project, 'passes'>, shotId: string): ProjectPass[] =>
  project.passes.filter((pass) => pass.shotId === shotId)

export const activePasses = (project: Pick<Project, 'passes' | 'shots' | 'shotId'>): ProjectPass[] =>
  passesOf(project, activeShot(project).id)

export const shotOf = (project: BesideSheets, pass: ProjectPass): Shot =>
  project.shots.find((shot) => shot.id === pass.shotId) ?? project.shots[0]

/** The rig of a shot. */
export const rigOf = (project: Pick<Project, 'rigs'>, shot: Pick<Shot, 'rigId'>): Rig =>
  project.rigs.find((rig) => rig.id === shot.rigId) ?? project.rigs[0]

/** The rig a pass is lit by: its own, or its shot's. */
export const rigOfPass = (project: BesideSheets, pass: ProjectPass): Rig =>
  project.rigs.find((rig) => rig.id === pass.rigId) ?? rigOf(project, shotOf(project, pass))
