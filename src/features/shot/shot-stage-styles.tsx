import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.frame-box, .frame-edge': {
    pointerEvents: 'none',
  },
  '.frame-edge': {
    outline: '1px solid #0006',
  },
  '.frame-edge.locked': {
    outline: '3px solid var(--slate)',
  },
  '.frame-edge.watching': {
    outline: '3px dashed var(--ochre-ring)',
  },
  '.lock-tag.watching': {
    background: '#8a4f17',
  },
  '.lock-tag': {
    position: 'absolute',
    transform: 'translateY(-100%)',
    background: '#3e5c66',
    color: '#faf7f1',
    fontSize: 11.5,
    padding: '2px 9px 3px',
    margin: '-2px 0 0 -3px',
    borderRadius: '4px 4px 0 0',
    pointerEvents: 'none',
  },
} as const

export const ShotStageStyles = pageStyles(styles)
