'use client'

import { useState } from 'react'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { surfaceTerm } from '@/core/sheet/new-layer'
import { plural } from '@/core/plural'
import { activePasses } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { castingLights, placeOfShadow } from '@/state/fallen-shadow-place'
import { ensureMeshes } from '@/state/mesh-store'
import { besideSheets } from '@/state/use-beside-sheets'
import { changeContent } from './layer-actions'
import { SurfaceList, surfaceNames } from './surface-list'

interface FallenShadowSectionProps {
  readonly project: Project
  readonly layerId: string
  readonly content: ContentOf<'fallenShadow'>
}

/** What throws a fallen shadow, and the lights that it can fall under. */
export function FallenShadowSection({ project, layerId, content }: FallenShadowSectionProps) {
  const [isOpen, setIsOpen] = useState(false)
  const [problem, setProblem] = useState<string | null>(null)
  const { parts } = content
  const lights = castingLights(project)
  const beside = besideSheets(project)
  const hasIdPass = activePasses(project).some(({ kind, rendered }) => kind === 'id' && rendered)
  const gone = surfaceNames(beside, surfaceTerm('parts', [...parts])).filter((name) => name === 'gone').length
  const fall = async (light: (typeof lights)[number]) => {
    await ensureMeshes(project)
    const place = placeOfShadow(project, parts, light)
    setProblem(place ? null : `Nothing that throws it is in sight under ${light.name}.`)
    if (place)
      changeContent(layerId, 'fallenShadow', `let it fall under ${light.name}`, (own) => {
        own.foot = [...place.foot]
        own.head = [...place.head]
        own.falls = [...place.falls]
      })
  }
  return (
    <section className="section">
      <div className="section-head">
        <span>Thrown by</span>
        <button className="link" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)}>
          {parts.length === 0 ? 'All of the subject' : plural(parts.length, 'part')}
          {gone > 0 && `, ${gone} gone`}
        </button>
      </div>
      {isOpen && (
        <SurfaceList
          project={beside}
          term={surfaceTerm('parts', [...parts])}
          onChange={(term) =>
            changeContent(layerId, 'fallenShadow', 'what throws the shadow', (own) => {
              own.parts = [...term.keys]
            })
          }
        />
      )}
      {lights.length > 0 && (
        <div className="quick" role="group" aria-label="Let it fall under a light">
          {lights.map((light) => (
            <button key={light.id} className="link" onClick={() => void fall(light)}>
              Fall under {light.name}
            </button>
          ))}
        </div>
      )}
      {!hasIdPass && (
        <p className="problem" role="status">
          It shows nothing: render the ID pass, it is made from that.
        </p>
      )}
      {problem && (
        <p className="quiet" role="alert">
          {problem}
        </p>
      )}
    </section>
  )
}
