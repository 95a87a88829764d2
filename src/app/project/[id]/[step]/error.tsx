'use client'

import { PageStopped } from '@/features/lost/page-stopped'

export default function StepError({ error, reset }: { error: Error; reset: () => void }) {
  return <PageStopped reason={error.message} again={reset} />
}
