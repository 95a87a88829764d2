import { pageStyles } from '@/ui/page-styles'

const styles = {
  // The view of Shot and of Models: a slim bar over it.
  '.view-column': {
    display: 'grid',
    gridTemplateRows: '40px minmax(0, 1fr) auto',
    minWidth: 0,
    minHeight: 0,
  },
} as const

export const ShotStepStyles = pageStyles(styles)
