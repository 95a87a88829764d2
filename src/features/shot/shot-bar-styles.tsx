import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.view-bar': {
    display: 'flex',
    alignItems: 'center',
    gap: 12,
    padding: '0 14px',
    borderBottom: '1px solid var(--rule)',
    minWidth: 0,
  },
  '.tabs': {
    display: 'flex',
    alignItems: 'center',
    gap: 2,
    minWidth: 0,
    overflowX: 'auto',
    scrollbarWidth: 'none',
    height: '100%',
  },
  '.tabs > *': {
    whiteSpace: 'nowrap',
    flex: 'none',
  },
  '.tabs .tab': {
    font: 'inherit',
    background: 'none',
    border: 0,
    borderBottom: '2px solid transparent',
    color: 'var(--ink-3)',
    cursor: 'pointer',
    padding: '4px 8px',
    height: '100%',
  },
  ".tabs [aria-pressed='true']": {
    color: 'var(--ink)',
    fontWeight: 620,
    borderBottomColor: 'var(--clay)',
  },
  '.tabs .rename': {
    font: 'inherit',
    width: 140,
    background: 'var(--raised)',
    color: 'var(--ink)',
    border: '1px solid var(--clay)',
    borderRadius: 4,
    padding: '2px 6px',
  },
  '.tabs .link': {
    margin: '0 3px',
  },
} as const

export const ShotBarStyles = pageStyles(styles)
