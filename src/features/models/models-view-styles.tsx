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
    containerType: 'inline-size',
  },
  // Beneath the handles where there is no room beside them.
  '@container (max-width: 440px)': {
    '.over-stage ~ .over-view': { top: 46 },
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
