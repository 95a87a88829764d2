import { pageStyles } from '../page-styles'

export const CurveFieldStyles = pageStyles({
  '.curve-field': { padding: '2px 0 8px' },
  '.curve-box': {
    position: 'relative',
    height: 168,
    margin: '2px 6px 6px',
    background: 'var(--raised)',
    border: '1px solid var(--rule-strong)',
    cursor: 'copy',
    touchAction: 'none',
  },
  '.curve-box > svg': {
    position: 'absolute',
    inset: 0,
    width: '100%',
    height: '100%',
    pointerEvents: 'none',
  },
  '.curve-grid': { fill: 'none', stroke: 'var(--rule)', strokeWidth: 1, vectorEffect: 'non-scaling-stroke' },
  '.curve-line': { fill: 'none', stroke: 'var(--clay)', strokeWidth: 2, vectorEffect: 'non-scaling-stroke' },
  '.curve-point': {
    position: 'absolute',
    width: 14,
    height: 14,
    margin: '-7px 0 0 -7px',
    padding: 0,
    borderRadius: '50%',
    border: '2px solid var(--clay)',
    background: 'var(--raised)',
    cursor: 'move',
    touchAction: 'none',
  },
})
