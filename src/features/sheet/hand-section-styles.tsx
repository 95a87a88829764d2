import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.tool-row': {
    display: 'grid',
    gridAutoColumns: '1fr',
    gridAutoFlow: 'column',
    gap: 4,
    marginBottom: 4,
  },
  '.tool': {
    font: 'inherit',
    fontSize: 12.5,
    padding: '4px 2px',
    border: '1px solid var(--rule-strong)',
    borderRadius: 6,
    background: 'transparent',
    color: 'var(--ink)',
    cursor: 'pointer',
  },
  ".tool[aria-pressed='true']": {
    background: 'var(--clay)',
    borderColor: 'var(--clay)',
    color: '#fff',
  },
} as const

export const HandSectionStyles = pageStyles(styles)
