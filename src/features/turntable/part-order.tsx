'use client'

import { useState } from 'react'
import type { Project } from '@/data/project-schema'
import { askSheet } from '@/state/sheet-sync'

interface PartOrderProps {
  readonly project: Project
  readonly shotId: string
  readonly parts: readonly string[]
  readonly onChange: (parts: string[]) => void
}

/** Side of what is asked for: their order alone is used. Pixels. */
const SIDE = 16

/** In which order parts come: of the model, from near to far, or by hand, one up or down. */
export function PartOrder({ project, shotId, parts, onChange }: PartOrderProps) {
  const [problem, setProblem] = useState<string | null>(null)
  const named = new Map(
    project.models.flatMap((model) =>
      model.parts.filter(({ polygons }) => polygons > 0).map((part) => [part.key, part.name] as const),
    ),
  )
  const byDepth = async (isNearFirst: boolean) => {
    const found = await askSheet(project, (worker) => worker.partDepths(shotId, SIDE))
    if (!found) {
      setProblem('Render the ID and the depth pass first: the order is told by them.')
      return
    }
    setProblem(null)
    const keys = found.map(({ part }) => part)
    onChange(isNearFirst ? keys.reverse() : keys)
  }
  const move = (i: number, by: number) => {
    const next = [...parts]
    const [key] = next.splice(i, 1)
    next.splice(i + by, 0, key)
    onChange(next)
  }
  return (
    <>
      <div className="row two">
        <span className="label">Order</span>
        <span className="part-order-links">
          <button className="link" onClick={() => onChange([...named.keys()])}>
            As in the model
          </button>
          <button className="link" onClick={() => void byDepth(true)}>
            Near first
          </button>
          <button className="link" onClick={() => void byDepth(false)}>
            Far first
          </button>
        </span>
      </div>
      {problem && <p className="idle-note">{problem}</p>}
      {parts.length === 0 ? (
        <p className="idle-note">No part is named yet: it is whole from the first.</p>
      ) : (
        <ol className="pick-list part-order">
          {parts.map((key, i) => (
            <li key={key}>
              <span>{named.get(key) ?? 'a part that is gone'}</span>
              <button
                className="icon-button"
                disabled={i === 0}
                aria-label={`${named.get(key) ?? key} earlier`}
                onClick={() => move(i, -1)}
              >
                ↑
              </button>
              <button
                className="icon-button"
                disabled={i === parts.length - 1}
                aria-label={`${named.get(key) ?? key} later`}
                onClick={() => move(i, 1)}
              >
                ↓
              </button>
            </li>
          ))}
        </ol>
      )}
    </>
  )
}
