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
  '.render-where': {
    display: 'grid',
    gridTemplateColumns: '1fr 1fr',
    gap: '2px 8px',
    margin: '0 0 10px',
  },
  '.render-where label': {
    display: 'grid',
    gridTemplateColumns: 'auto 1fr',
    gap: '0 6px',
    alignItems: 'center',
    padding: '5px 8px',
    border: '1px solid var(--rule)',
    borderRadius: 3,
  },
  '.render-where label:has(:checked)': {
    borderColor: 'var(--clay)',
  },
  '.render-where label .quiet': {
    gridColumn: 2,
  },
  '.render-where p': {
    gridColumn: '1 / -1',
    margin: 0,
  },
} as const

export const PassesStepStyles = pageStyles(styles)
