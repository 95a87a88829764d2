import { pageStyles } from '@/ui/page-styles'

const styles = {
  // A glass over the same spot of every picture.
  '.lens': {
    position: 'absolute',
    transform: 'translate(-50%, -50%)',
    borderRadius: '50%',
    overflow: 'hidden',
    boxShadow: '0 0 0 2px var(--paper), 0 0 0 3px #0008',
    pointerEvents: 'none',
    zIndex: 2,
  },
} as const

export const PassLensStyles = pageStyles(styles)
