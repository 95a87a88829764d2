import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.term-editor': {
    margin: '8px -8px 4px',
    padding: '4px 8px 8px',
    background: 'var(--raised)',
    borderRadius: 6,
  },
} as const

export const TermEditorStyles = pageStyles(styles)
