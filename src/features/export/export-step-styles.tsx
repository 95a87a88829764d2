import { pageStyles } from '@/ui/page-styles'

const styles = {
  // What is told stays in sight, however far the inspector is scrolled.
  '.export-foot': {
    position: 'sticky',
    bottom: 0,
    zIndex: 2,
    margin: '0 -16px',
    padding: '10px 16px 12px',
    borderTop: '1px solid var(--rule-strong)',
    background: 'var(--paper)',
  },
} as const

export const ExportStepStyles = pageStyles(styles)
