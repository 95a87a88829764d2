import { pageStyles } from './page-styles'

const styles = {
  '.shortcut-groups': {
    columns: 2,
    columnGap: 32,
  },
  '.shortcut-groups section': {
    breakInside: 'avoid',
    marginBottom: 14,
  },
  '.shortcut-groups div': {
    display: 'flex',
    justifyContent: 'space-between',
    gap: 12,
    padding: '2px 0',
  },
} as const

export const ShortcutSheetStyles = pageStyles(styles)
