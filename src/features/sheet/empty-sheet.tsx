'use client'

import Link from 'next/link'
import Button from '@mui/material/Button'
import type { Project } from '@/data/project-schema'
import { setBench } from '@/state/view-store'
import { hangStartingStack } from './starting-stack'

/** What belongs on an empty sheet, and the one next action. */
export function EmptySheet({ project, hasPass }: { project: Project; hasPass: boolean }) {
  return (
    <div className="empty-sheet">
      <h2 className="display">An empty sheet</h2>
      {hasPass ? (
        <>
          <p>
            Layers hang in the rack below, back at the left. A first stack is a base of clay with colour,
            shade and lines over it: a place to begin, every layer yours to change.
          </p>
          <Button variant="contained" onClick={() => hangStartingStack(project)} data-testid="first-stack">
            Hang a first stack
          </Button>
        </>
      ) : (
        <p>
          Nothing is rendered yet. <Link href={`/project/${project.id}/passes`}>Render the passes</Link>, then
          layer them here. Fills and pictures can be hung with + at any time.
        </p>
      )}
      <p>
        Or{' '}
        <button className="link" data-testid="empty-recipes" onClick={() => setBench({ recipe: '' })}>
          begin with a recipe
        </button>
        : a finished look that brings its passes and renders them.
      </p>
    </div>
  )
}
