import { hashJson } from '@/core/math/stable-hash'
import type { PassKindName } from '@/core/passes/registry'
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

/** Passes whose colours are those that materials have now; others hold what they were rendered in, or none. */
const IN_COLOURS_OF_NOW: readonly PassKindName[] = ['flat', 'id']

/** The same for what leaves as a file: what a pass does not show, does not count. */
function fileRevision(project: Project, pass: ProjectPass): string {
  if (IN_COLOURS_OF_NOW.includes(pass.kind)) return pictureRevision(project, pass)
  const { lights, surfaces, facts } = seenAs(project, pass)
  const named = surfaces.map(({ groups, role }) => [groups, role])
  return hashJson([pass.rendered?.resultId ?? '', lights, named, facts])
}

/** Of a sheet by all that it shows, pages that lie on it included. */
export const sheetRevision = (project: Project, sheet: ProjectSheet): string =>
  hashJson([
    paintedFrom(project, sheet).map((own) => sheetKey(worded(project, own))),
    neededBy(project, sheet).passes.map((pass) => [pass.id, fileRevision(project, pass)]),
  ])

/** Of a pass as it leaves: its picture in the look that it has on the sheet. */
export const passRevision = (project: Project, pass: ProjectPass): string =>
  hashJson([fileRevision(project, pass), lookOnSheet(project, pass.id, pass.kind)])
