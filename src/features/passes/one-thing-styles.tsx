import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.shown-by': { listStyle: 'none', margin: '0 0 10px', padding: 0 },
  '.shown-by li': {
    display: 'grid',
    gridTemplateColumns: 'minmax(0, 1fr) auto',
    gap: 10,
    alignItems: 'baseline',
    minHeight: 26,
  },
  '.one-thing-press': { display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 6, marginTop: 8 },
} as const

export const OneThingStyles = pageStyles(styles)
