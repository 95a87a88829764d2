import { GuideScreen } from '@/features/guide/guide-screen'

export default function Page() {
  return <GuideScreen />
}
