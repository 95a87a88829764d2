'use client'

import { useState } from 'react'
import type { Project, Reference } from '@/data/project-schema'
import { removeReference } from '@/state/import-models'
import { useFileUrl } from './use-file-url'
import { ReferencesStyles } from './references-styles'

/** Pictures pinned beside the view; a press shows one large, in half of the view. */
export function References({ project }: { project: Project }) {
  const [largeId, setLargeId] = useState<string | null>(null)
  const large = project.references.find((reference) => reference.id === largeId)
  if (project.references.length === 0) return null
  return (
    <div className={`references ${large ? 'with-large' : ''}`} role="group" aria-label="References">
      <ReferencesStyles />
      {large && <Picture project={project} reference={large} onPress={() => setLargeId(null)} large />}
      <div className="reference-strip">
        {project.references.map((reference) => (
          <div className="reference" key={reference.id}>
            <Picture
              project={project}
              reference={reference}
              pressed={reference.id === largeId}
              onPress={() => setLargeId(reference.id === largeId ? null : reference.id)}
            />
            <button
              className="icon-button"
              aria-label={`Take ${reference.name} down`}
              title="Take down"
              onClick={() => removeReference(reference.id)}
            >
              ×
            </button>
          </div>
        ))}
      </div>
    </div>
  )
}

interface PictureProps {
  readonly project: Project
  readonly reference: Reference
  readonly pressed?: boolean
  readonly large?: boolean
  readonly onPress: () => void
}

function Picture({ project, reference, pressed = false, large = false, onPress }: PictureProps) {
  const url = useFileUrl(project.id, reference.fileId)
  const what = large ? `Show ${reference.name} small again` : `Show ${reference.name} large`
  return (
    <button
      className={large ? 'reference-large' : 'reference-small'}
      aria-label={what}
      aria-pressed={pressed}
      title={reference.name}
      onClick={onPress}
    >
      {}
      {url && <img src={url} alt={reference.name} />}
    </button>
  )
}
