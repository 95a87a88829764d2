import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.material-head': {
    display: 'grid',
    gridTemplateColumns: '30px minmax(0, 1fr) auto',
    gap: 10,
    alignItems: 'center',
    minHeight: 30,
  },
  '.material-name': {
    font: 'inherit',
    color: 'var(--ink)',
    background: 'none',
    border: 0,
    padding: '2px 0',
    textAlign: 'left',
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
    cursor: 'pointer',
  },
  '.material-name:hover': {
    color: 'var(--clay)',
  },
  '.material.open': {
    background: 'var(--raised)',
    margin: '0 -8px',
    padding: '0 8px 6px',
    borderRadius: 5,
  },
  '.small-head': {
    margin: '8px 0 2px',
    fontSize: 12,
  },
  '.palette': {
    margin: '6px 0 10px',
  },
  '.palette-colours': {
    display: 'flex',
    height: 30,
    borderRadius: 5,
    overflow: 'hidden',
  },
  '.palette-colours button': {
    flex: 1,
    border: 0,
    padding: 0,
    cursor: 'pointer',
  },
  '.palette-colours button:disabled': {
    cursor: 'default',
  },
  '.palette-foot': {
    display: 'grid',
    gridTemplateColumns: 'minmax(0, 1fr) auto auto 24px',
    alignItems: 'center',
    gap: 4,
  },
} as const

export const MaterialsPanelStyles = pageStyles(styles)
