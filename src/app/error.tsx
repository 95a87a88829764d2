'use client'

import { PageStopped } from '@/features/lost/page-stopped'

export default function PageError({ error, reset }: { error: Error; reset: () => void }) {
  return <PageStopped reason={error.message} again={reset} />
}
