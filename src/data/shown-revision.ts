import { hashJson } from '@/core/math/stable-hash'
import { lookOnSheet } from './look-on-sheet'
import { sheetKey } from './frame-names'
import type { Project, ProjectPass, ProjectSheet } from './project-schema'
import { neededBy, seenAs, type SeenPass } from './sheet-needs'
import { paintedFrom, worded } from './shown-sheets'

/** Words that stay as long as what is shown stays, and are others as soon as it is another. */

const keys = new WeakMap<SeenPass, string>()

/** Tells one way of seeing a result from another: its lights, colours and facts. */
export function seenKey(seen: SeenPass): string {
  const { lights, surfaces, facts } = seen
  const key =
    keys.get(seen) ?? hashJson([lights, surfaces.map((s) => [s.baseColour, s.groups, s.role]), facts])
  keys.set(seen, key)
  return key
}

/** Tells one picture of a pass from another: what was rendered, and how it is lit and coloured; empty without a result. */
export const pictureRevision = (project: Project, pass: ProjectPass): string =>
  pass.rendered ? `${pass.rendered.resultId} ${seenKey(seenAs(project, pass))}` : ''

/** Of a sheet by all that it shows, pages that lie on it included. */
export const sheetRevision = (project: Project, sheet: ProjectSheet): string =>
  hashJson([
    paintedFrom(project, sheet).map((own) => sheetKey(worded(project, own))),
    neededBy(project, sheet).passes.map((pass) => [pass.id, pictureRevision(project, pass)]),
  ])

/** Of a pass as it leaves: its picture in the look that it has on the sheet. */
export const passRevision = (project: Project, pass: ProjectPass): string =>
  hashJson([pictureRevision(project, pass), lookOnSheet(project, pass.id, pass.kind)])
