import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.line-brush': {
    position: 'absolute',
    inset: 0,
    cursor: 'none',
    touchAction: 'none',
  },
  '.line-brush:focus-visible': {
    outline: '2px solid var(--clay)',
    outlineOffset: 2,
  },
  '.line-brush svg': {
    width: '100%',
    height: '100%',
    overflow: 'visible',
    pointerEvents: 'none',
  },
} as const

export const BrushOverlayStyles = pageStyles(styles)
