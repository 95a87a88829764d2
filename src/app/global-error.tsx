'use client'

import Link from 'next/link'

/** What is left when even the frame of the page failed: plain, without anything that could fail again. */
export default function EverythingStopped({ error, reset }: { error: Error; reset: () => void }) {
  return (
    <html lang="en">
      <body>
        <main role="alert">
          <h1>Muted Relief stopped</h1>
          <p>Something went wrong ({error.message}). Your projects are in this browser as you left them.</p>
          <p>
            <button onClick={reset}>Open it again</button> <Link href="/">All projects</Link>
          </p>
        </main>
      </body>
    </html>
  )
}
