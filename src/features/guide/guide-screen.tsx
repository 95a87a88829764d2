'use client'

import Link from 'next/link'
import { useSyncExternalStore } from 'react'
import { GuideReader } from '@/ui/guide/guide-reader'

const onHash = (tell: () => void) => {
  window.addEventListener('hashchange', tell)
  return () => window.removeEventListener('hashchange', tell)
}

/** The guide by itself, at an address that can be kept. */
export function GuideScreen() {
  const hash = useSyncExternalStore(
    onHash,
    () => window.location.hash,
    () => '',
  )
  return (
    <main style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', height: '100vh' }}>
      <header className="bench-header">
        <Link href="/" className="wordmark display">
          Muted Relief
        </Link>
        <span>The guide</span>
      </header>
      <GuideReader
        place={decodeURIComponent(hash.slice(1))}
        onPlace={(to) => {
          window.location.hash = to
        }}
      />
    </main>
  )
}
