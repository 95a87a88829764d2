import { paramDefaults, type ParamValues } from '@/core/params'
import { passKind, type PassKindName } from '@/core/passes/registry'
import { activeSheet } from './active-shot'
import type { Project } from './project-schema'

/** How a pass is shown on the sheet at work, where it is; else as it is by default. */
export function lookOnSheet(project: Project, passId: string | undefined, kind: PassKindName): ParamValues {
  const sheet = activeSheet(project)
  for (const { content } of Object.values(sheet.nodes))
    if (content.kind === 'pass' && content.passId === passId) return content.look
  return paramDefaults(passKind(kind).lookSchema)
}
