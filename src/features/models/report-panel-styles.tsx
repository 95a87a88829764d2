import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.row.fact': {
    gridTemplateColumns: '1fr auto',
    minHeight: 24,
  },
  '.findings': {
    listStyle: 'none',
    margin: 0,
    padding: 0,
  },
  '.findings li': {
    padding: '5px 0 5px 12px',
    position: 'relative',
    color: 'var(--ink-2)',
  },
  '.findings li::before': {
    content: "''",
    position: 'absolute',
    left: 0,
    top: 12,
    width: 5,
    height: 5,
    borderRadius: '50%',
    background: 'var(--rule-strong)',
  },
  ".findings li[data-level='fault']::before": {
    background: 'var(--clay)',
  },
  ".findings li[data-level='fault']": {
    color: 'var(--ink)',
  },
  '.findings .link': {
    display: 'block',
    padding: '2px 0',
  },
  '.repair': {
    padding: '4px 0',
  },
  '.repair-head': {
    display: 'flex',
    justifyContent: 'space-between',
    gap: 8,
    alignItems: 'baseline',
  },
  '.repair-head .link': {
    whiteSpace: 'nowrap',
  },
} as const

export const ReportPanelStyles = pageStyles(styles)
