'use client'

import { toHex } from '@/core/math/colour'
import { plural } from '@/core/plural'
import { PART_ROLES, type PartRole } from '@/core/scene/part-role'
import type { Project } from '@/data/project-schema'
import { useMeshStore } from '@/state/mesh-store'
import { dissolveGroup, setRoles } from '@/state/model-actions'
import type { TreeRow } from './tree-rows'

export const totalOf = (polygons: Project['models'][number]['polygons']): number =>
  polygons[3] + polygons[4] + polygons.more

interface PartCellsProps {
  readonly row: TreeRow
  readonly name: string
  /** Keys of the parts that an act on this line is meant for. */
  readonly meant: () => string[]
}

/** What a line of the tree tells beside its name: a part's materials, polygons and role, or how much a model or group holds. */
export function PartCells({ row, name, meant }: PartCellsProps) {
  const problems = useMeshStore((s) => s.problems)
  return (
    <>
      {row.type === 'part' && (
        <>
          <span className="part-material" title={row.materials}>
            {row.part.materials.slice(0, 3).map((m) => (
              <i key={m} style={{ background: toHex(row.model.materials[m].baseColour) }} />
            ))}
            <span>{row.materials}</span>
          </span>
          <span className="number quiet">{row.part.polygons.toLocaleString('en')}</span>
          <select
            aria-label={`Role of ${name}`}
            title="Role"
            tabIndex={-1}
            data-role={row.part.role}
            value={row.part.role}
            onClick={(e) => e.stopPropagation()}
            onChange={(e) => setRoles(meant(), e.target.value as PartRole)}
          >
            {PART_ROLES.map((role) => (
              <option key={role}>{role}</option>
            ))}
          </select>
        </>
      )}
      {row.type === 'model' && (
        <span className="row-note quiet">
          {problems[row.model.id] ? (
            <b className="attention-text" title={problems[row.model.id]}>
              cannot be read
            </b>
          ) : (
            `${plural(row.model.parts.length, 'part')}, ${plural(totalOf(row.model.polygons), 'polygon')}`
          )}
        </span>
      )}
      {row.type === 'group' && (
        <span className="row-note quiet">
          {plural(row.size, 'part')}{' '}
          <button
            className="link"
            tabIndex={-1}
            onClick={(e) => {
              e.stopPropagation()
              dissolveGroup(row.group.id)
            }}
          >
            Take apart
          </button>
        </span>
      )}
    </>
  )
}
