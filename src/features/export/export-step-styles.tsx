import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.export-column': {
    padding: '28px 36px',
    overflow: 'auto',
    display: 'flex',
    flexDirection: 'column',
    gap: 8,
  },
  '.export-column h2': {
    margin: '0 0 4px',
    fontSize: 20,
  },
  '.export-block': {
    borderTop: '1px solid var(--rule)',
    padding: '18px 0',
    display: 'grid',
    gap: 10,
    maxWidth: 560,
  },
} as const

export const ExportStepStyles = pageStyles(styles)
