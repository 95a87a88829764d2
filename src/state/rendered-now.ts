import type { Project, ProjectPass } from '@/data/project-schema'
import { seenAs } from '@/data/sheet-needs'

/** A pass as it was rendered, under the lights and in the colours of now. */
export function renderedNow(
  project: Project,
  pass: ProjectPass,
): NonNullable<ProjectPass['rendered']> | null {
  if (!pass.rendered) return null
  const { facts, lights, surfaces } = seenAs(project, pass)
  const plain = structuredClone({ lights, surfaces }) as Pick<
    NonNullable<ProjectPass['rendered']>,
    'lights' | 'surfaces'
  >
  return { ...pass.rendered, ...plain, facts: { ...(facts ?? pass.rendered.facts) } }
}
