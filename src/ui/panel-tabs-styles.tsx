import { pageStyles } from './page-styles'

const styles = {
  ".panel-tabs [role='tab']": {
    font: 'inherit',
    background: 'none',
    border: 0,
    borderBottom: '2px solid transparent',
    color: 'var(--ink-3)',
    cursor: 'pointer',
    padding: '4px 8px',
  },
  ".panel-tabs [aria-selected='true']": {
    color: 'var(--ink)',
    fontWeight: 620,
    borderBottomColor: 'var(--clay)',
  },
  '.panel-tabs': {
    display: 'flex',
    gap: 6,
  },
} as const

export const PanelTabsStyles = pageStyles(styles)
