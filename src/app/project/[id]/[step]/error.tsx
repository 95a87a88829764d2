'use client'

import { StepStopped } from '@/features/step-stopped'

export default function StepError({ error, reset }: { error: Error; reset: () => void }) {
  return <StepStopped reason={error.message} again={reset} />
}
