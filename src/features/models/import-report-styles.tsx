import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.import-report': {
    margin: '12px 16px 0',
    border: '1px solid var(--rule-strong)',
    borderRadius: 6,
    padding: '8px 12px',
    maxHeight: '40%',
    overflow: 'auto',
    flex: 'none',
  },
  '.import-head': {
    display: 'flex',
    gap: 8,
    alignItems: 'baseline',
  },
  '.import-lists details': {
    marginTop: 4,
  },
  '.import-lists ul': {
    margin: '2px 0 4px',
    paddingLeft: 18,
  },
} as const

export const ImportReportStyles = pageStyles(styles)
