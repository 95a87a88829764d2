import { pageStyles } from '@/ui/page-styles'

const styles = {
  // Models
  '.models-view': {
    display: 'flex',
    flexDirection: 'column',
    minWidth: 0,
    minHeight: 0,
  },
  '.models-view .stage': {
    flex: 1,
  },
  '.over-stage': {
    position: 'absolute',
    top: 10,
    right: 12,
    background: 'var(--raised)',
    borderRadius: 14,
  },
} as const

export const ModelsViewStyles = pageStyles(styles)
