import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.light-list': {
    listStyle: 'none',
    margin: 0,
    padding: 0,
  },
  '.light-row': {
    display: 'grid',
    gridTemplateColumns: '1fr auto 40px',
    gap: 8,
    alignItems: 'center',
    minHeight: 30,
    font: 'inherit',
    color: 'inherit',
    textAlign: 'left',
    background: 'none',
    border: 0,
    padding: 0,
  },
  '.light-list li': {
    display: 'grid',
    gridTemplateColumns: '24px 1fr',
    gap: 8,
    alignItems: 'center',
    minHeight: 30,
    paddingRight: 4,
    cursor: 'default',
  },
  ".light-list li[data-chosen='true']": {
    background: 'var(--low)',
    boxShadow: 'inset 3px 0 var(--clay)',
  },
  '.light-list .name': {
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  '.light-list b': {
    textAlign: 'right',
  },
  '.lamp': {
    width: 12,
    height: 12,
    borderRadius: '50%',
    boxShadow: 'inset 0 0 0 1px var(--ink-3)',
  },
} as const

export const LightPanelStyles = pageStyles(styles)
