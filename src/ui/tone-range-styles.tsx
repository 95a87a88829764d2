import { pageStyles } from './page-styles'

export const ToneRangeStyles = pageStyles({
  '.tone-range': { padding: '2px 8px 10px' },
  '.tone-range-box': {
    position: 'relative',
    height: 56,
    background: 'var(--raised)',
    borderBottom: '1px solid var(--rule-strong)',
  },
  '.tone-range-shape': {
    position: 'absolute',
    inset: 0,
    width: '100%',
    height: '100%',
    pointerEvents: 'none',
  },
  '.tone-range-shape polygon': {
    fill: 'color-mix(in srgb, var(--clay) 16%, transparent)',
    stroke: 'var(--clay)',
    strokeWidth: 1.5,
    vectorEffect: 'non-scaling-stroke',
  },
  '.tone-range-scale': {
    position: 'relative',
    height: 8,
    marginTop: 3,
    borderRadius: 4,
    background: 'linear-gradient(to right, #000, #fff)',
    border: '1px solid var(--rule-strong)',
  },
  '.tone-handle': {
    position: 'absolute',
    top: -4,
    width: 14,
    height: 14,
    marginLeft: -7,
    padding: 0,
    borderRadius: '50%',
    border: '2px solid var(--clay)',
    background: 'var(--clay)',
    cursor: 'ew-resize',
    touchAction: 'none',
  },
  // Where nothing is let through any more.
  ".tone-handle[data-soft='true']": { background: 'var(--raised)' },
})
