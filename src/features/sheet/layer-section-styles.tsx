import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.note-row': { display: 'grid', gap: 3, paddingTop: 4 },
  '.note-row textarea': {
    font: 'inherit',
    color: 'var(--ink)',
    background: 'var(--raised)',
    border: '1px solid var(--rule)',
    borderRadius: 3,
    padding: '4px 7px',
    resize: 'vertical',
    minHeight: 30,
  },
} as const

export const LayerSectionStyles = pageStyles(styles)
