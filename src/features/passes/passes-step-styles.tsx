import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.warn-list': {
    margin: '0 0 12px',
    padding: '8px 10px 8px 24px',
    borderLeft: '3px solid var(--ochre-ring)',
    background: 'color-mix(in srgb, var(--ochre-ring) 12%, transparent)',
  },
  '.warn-list li + li': {
    marginTop: 4,
  },
} as const

export const PassesStepStyles = pageStyles(styles)
