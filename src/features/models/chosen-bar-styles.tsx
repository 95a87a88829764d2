import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.chosen-bar': {
    display: 'flex',
    alignItems: 'center',
    flexWrap: 'wrap',
    gap: '0 10px',
    flex: 'none',
    minHeight: 36,
    padding: '3px 16px',
    borderBottom: '1px solid var(--rule)',
  },
  '.chosen-bar > *': {
    whiteSpace: 'nowrap',
  },
  '.chosen-bar .plain-select': {
    maxWidth: 84,
  },
} as const

export const ChosenBarStyles = pageStyles(styles)
