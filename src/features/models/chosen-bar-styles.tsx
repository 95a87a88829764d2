import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.chosen-bar': {
    display: 'flex',
    alignItems: 'center',
    gap: 10,
    flex: 'none',
    height: 36,
    padding: '0 16px',
    borderBottom: '1px solid var(--rule)',
    whiteSpace: 'nowrap',
    overflow: 'hidden',
  },
  '.chosen-bar .plain-select': {
    maxWidth: 84,
  },
} as const

export const ChosenBarStyles = pageStyles(styles)
