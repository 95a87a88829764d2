'use client'

import { plural } from '@/core/plural'
import { PART_ROLES, type PartRole } from '@/core/scene/part-role'
import type { Project } from '@/data/project-schema'
import { freeGroupName, groupByMaterial, groupParts, moveToGroup, setRoles } from '@/state/model-actions'
import { setBench, useViewStore } from '@/state/view-store'
import { ChosenBarStyles } from './chosen-bar-styles'

interface ChosenBarProps {
  readonly project: Project
  readonly onRename: () => void
}

/** What can be done to the chosen parts. */
export function ChosenBar({ project, onRename }: ChosenBarProps) {
  const keys = useViewStore((s) => s.partKeys)
  const solo = useViewStore((s) => s.solo)
  if (keys.length === 0)
    return (
      <div className="chosen-bar quiet">
        <ChosenBarStyles />
        Press parts to choose them, with Shift a range, with Ctrl one by one.
      </div>
    )
  return (
    <div className="chosen-bar" role="toolbar" aria-label="Chosen parts">
      <ChosenBarStyles />
      <b>{plural(keys.length, 'part')}</b>
      <select
        className="plain-select"
        aria-label="Group of the chosen parts"
        value=""
        onChange={(e) => {
          const { value } = e.target
          if (value === 'new') groupParts(keys, freeGroupName(project))
          else if (value === 'material') groupByMaterial(keys)
          else if (value === 'none') moveToGroup(keys, null)
          else if (value.startsWith('to ')) moveToGroup(keys, value.slice(3))
        }}
      >
        <option value="">Group</option>
        <option value="new">New group of these</option>
        <option value="material">One group for each material</option>
        <option value="none">Out of their groups</option>
        {project.groups.map((group) => (
          <option key={group.id} value={`to ${group.id}`}>
            Into {group.name}
          </option>
        ))}
      </select>
      <button className="link" onClick={onRename}>
        Rename
      </button>
      <button
        className="link"
        aria-pressed={solo !== null}
        onClick={() => setBench({ solo: solo === null ? [...keys] : null })}
      >
        {solo === null ? 'Alone' : 'Not alone'}
      </button>
      <select
        className="plain-select"
        aria-label="Role of the chosen parts"
        value=""
        onChange={(e) => setRoles(keys, e.target.value as PartRole)}
      >
        <option value="" disabled>
          Role
        </option>
        {PART_ROLES.map((role) => (
          <option key={role}>{role}</option>
        ))}
      </select>
      <span className="spacer" />
      <button className="link" title="Choose none" onClick={() => setBench({ partKeys: [] })}>
        None
      </button>
    </div>
  )
}
