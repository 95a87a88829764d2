import { notFound } from 'next/navigation'
import { ProjectWorkspace } from '@/features/workspace'
import { isStep } from '@/ui/steps'

export default async function Page({ params }: { params: Promise<{ id: string; step: string }> }) {
  const { id, step } = await params
  if (!isStep(step)) notFound()
  return <ProjectWorkspace projectId={decodeURIComponent(id)} step={step} />
}
