import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.guides': {
    position: 'absolute',
    inset: 0,
    width: '100%',
    height: '100%',
    pointerEvents: 'none',
    fill: 'none',
    stroke: '#fff',
    strokeWidth: 1,
    mixBlendMode: 'difference',
    opacity: 0.55,
  },
} as const

export const GuidesStyles = pageStyles(styles)
