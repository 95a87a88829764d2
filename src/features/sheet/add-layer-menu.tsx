'use client'

import ListSubheader from '@mui/material/ListSubheader'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { passKind } from '@/core/passes/registry'
import { activePasses } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import {
  addFillLayer,
  addFlare,
  addSpecks,
  addTexture,
  addGroup,
  addLivePressing,
  addPassLayer,
  addWash,
} from './layer-actions'
import { startFallenShadow } from './start-fallen-shadow'

interface AddLayerMenuProps {
  readonly project: Project
  readonly anchor: HTMLElement | null
  readonly onClose: () => void
  readonly onAddPicture: () => void
  /** Makes a layer of what is seen now. */
  readonly onPress: () => void
}

/** Everything that can be hung in the rack. */
export function AddLayerMenu({ project, anchor, onClose, onAddPicture, onPress }: AddLayerMenuProps) {
  const add = (action: () => void) => {
    onClose()
    action()
  }
  const others: readonly (readonly [string, () => void])[] = [
    ['Fill', addFillLayer],
    ['Picture or layers from a file', onAddPicture],
    ['Texture', addTexture],
    ['Light flare', addFlare],
    ['Specks', addSpecks],
    ['Fallen shadow', startFallenShadow],
    ['Wash', () => addWash()],
    ['Group', addGroup],
    ['Live pressing', addLivePressing],
    ['Pressing of what is seen', onPress],
  ]
  return (
    <Menu
      open={anchor !== null}
      anchorEl={anchor}
      // Within the page's landmarks, where those who hear the page find it.
      container={() => anchor?.closest('main') ?? null}
      onClose={onClose}
      anchorOrigin={{ vertical: 'top', horizontal: 'center' }}
      transformOrigin={{ vertical: 'bottom', horizontal: 'center' }}
    >
      <ListSubheader role="presentation" sx={{ lineHeight: '28px' }}>
        From a pass
      </ListSubheader>
      {activePasses(project).map((pass) => (
        <MenuItem dense key={pass.id} disabled={!pass.rendered} onClick={() => add(() => addPassLayer(pass))}>
          {passKind(pass.kind).label}
          {!pass.rendered && ', not rendered'}
        </MenuItem>
      ))}
      <ListSubheader role="presentation" sx={{ lineHeight: '28px' }}>
        Other
      </ListSubheader>
      {others.map(([label, action]) => (
        <MenuItem dense key={label} onClick={() => add(action)}>
          {label}
        </MenuItem>
      ))}
    </Menu>
  )
}
