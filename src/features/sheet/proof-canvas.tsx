'use client'

import { useEffect, useRef, useState } from 'react'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { Composing } from './composing'
import type { ProofLook } from './proof-look'
import { ProofView } from './proof-view'

interface ProofCanvasProps {
  readonly project: Project
  readonly look: ProofLook
  readonly label: string
  readonly upTo?: number
  readonly without?: string | null
  /** Another sheet than the one at work. */
  readonly sheet?: ProjectSheet | null
  /** Told why there is no picture, or null when there is one again. */
  readonly onProblem?: (problem: string | null) => void
}

/** What the stack gives, over all of the element it stands in; the sheet worker keeps it up to date. */
export function ProofCanvas({
  project,
  look,
  label,
  upTo = Infinity,
  without = null,
  sheet = null,
  onProblem,
}: ProofCanvasProps) {
  const hostRef = useRef<HTMLDivElement>(null)
  const [view, setView] = useState<ProofView | null>(null)
  /** How much of it is composed, where that takes a while; null while that is not known. */
  const [busy, setBusy] = useState<{ readonly host: HTMLElement; readonly share01: number | null } | null>(
    null,
  )
  const told = useRef(onProblem)
  useEffect(() => {
    told.current = onProblem
  })
  useEffect(() => {
    const host = hostRef.current
    if (!host) return
    const own = new ProofView(host, label, {
      onProblem: (problem) => told.current?.(problem),
      onBusy: (share01) => setBusy(share01 === undefined ? null : { host, share01 }),
    })
    own.lookAt(look.store.getState())
    const stop = look.store.subscribe((now) => own.lookAt(now))
    setView(own)
    return () => {
      stop()
      own.close()
      setBusy(null)
    }
  }, [look, label])
  useEffect(() => view?.show({ project, upTo, without, sheet }), [view, project, upTo, without, sheet])
  return (
    <>
      <div ref={hostRef} style={{ position: 'absolute', inset: 0 }} data-testid="proof" />
      {busy && <Composing {...busy} />}
    </>
  )
}
