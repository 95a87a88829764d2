'use client'

import { PART_ROLES, roleNow } from '@/core/scene/part-role'
import type { Project, ProjectModel } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import {
  dropToGround,
  freeGroupName,
  groupByMaterial,
  groupParts,
  hideParts,
  moveToGroup,
  partsOf,
  setRoles,
  showParts,
} from '@/state/model-actions'
import { setBench, useViewStore } from '@/state/view-store'
import { PANELS, panelLabels, type Panel } from './models-inspector'

interface ModelsActions {
  readonly project: Project
  /** The model at work. */
  readonly model: ProjectModel | undefined
  readonly addFiles: () => void
  readonly addFolder: () => void
  readonly addDemo: () => Promise<void>
  readonly pinPicture: () => void
  readonly replace: (modelId: string) => void
  readonly search: () => void
  readonly rename: () => void
  readonly setPanel: (panel: Panel) => void
}

/** Offers what can be done with models and the chosen parts. */
export function useModelsActions(asked: ModelsActions): void {
  const { project, model, addFiles, addFolder, addDemo, pinPicture, replace, search, rename, setPanel } =
    asked
  const chosen = useViewStore((s) => s.partKeys)
  const solo = useViewStore((s) => s.solo)
  const hidden = partsOf(project, chosen).every((part) => roleNow(part) === 'off')
  useActions('Models', [
    { id: 'add', label: 'Add models', keys: 'a', run: addFiles },
    { id: 'add-folder', label: 'Add a folder', keys: 'Shift+A', run: addFolder },
    { id: 'pin', label: 'Pin a reference picture', keys: 'p', run: pinPicture },
    { id: 'demo-model', label: 'Add the demo model', run: () => void addDemo() },
    { id: 'search', label: 'Search parts', keys: '/', run: search },
    ...PANELS.map((name) => ({
      id: `panel-${name}`,
      label: `Inspector: ${panelLabels[name]}`,
      keys: { report: 'Shift+R', materials: 'Shift+M', place: 'Shift+P' }[name],
      run: () => setPanel(name),
    })),
    ...(project.models.length > 0
      ? [
          {
            id: 'all',
            label: 'Choose all parts',
            run: () => setBench({ partKeys: project.models.flatMap((m) => m.parts.map((p) => p.key)) }),
          },
        ]
      : []),
    ...(model
      ? [
          { id: 'drop', label: 'Drop to ground', keys: 'd', run: () => dropToGround(model.id) },
          { id: 'replace', label: 'Replace by a newer file', run: () => replace(model.id) },
        ]
      : []),
    ...(chosen.length > 0
      ? [
          ...PART_ROLES.map((role) => ({
            id: `role-${role}`,
            label: `Role: ${role}`,
            keys: { subject: 'Shift+S', ground: 'Shift+G', unseen: 'Shift+U', off: 'Shift+O' }[role],
            run: () => setRoles(chosen, role),
          })),
          {
            id: 'hide',
            label: hidden ? 'Show the chosen parts' : 'Hide the chosen parts',
            keys: 'h',
            run: () => (hidden ? showParts : hideParts)(chosen),
          },
          {
            id: 'group',
            label: 'Group the chosen parts',
            keys: 'g',
            run: () => void groupParts(chosen, freeGroupName(project)),
          },
          { id: 'ungroup', label: 'Out of their groups', keys: 'u', run: () => moveToGroup(chosen, null) },
          { id: 'by-material', label: 'One group for each material', run: () => groupByMaterial(chosen) },
          { id: 'rename', label: 'Rename the chosen parts', keys: 'r', run: rename },
          {
            id: 'solo',
            label: solo === null ? 'Show the chosen parts alone' : 'Show all again',
            keys: 's',
            run: () => setBench({ solo: solo === null ? [...chosen] : null }),
          },
        ]
      : []),
    ...(chosen.length > 0 || solo !== null
      ? [
          {
            id: 'none',
            label: 'Choose none',
            keys: 'Escape',
            run: () => setBench({ partKeys: [], solo: null }),
          },
        ]
      : []),
  ])
}
