import { ProjectsPage } from '@/features/projects/projects-page'

export default function Page() {
  return <ProjectsPage />
}
