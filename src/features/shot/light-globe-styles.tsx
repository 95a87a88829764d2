import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.globe': {
    width: '100%',
    maxWidth: 236,
    display: 'block',
    margin: '8px auto 0',
    touchAction: 'none',
    userSelect: 'none',
    cursor: 'crosshair',
  },
  '.globe-back': {
    fill: 'var(--low)',
    stroke: 'var(--rule-strong)',
  },
  '.globe-front': {
    fill: 'var(--raised)',
    stroke: 'var(--rule-strong)',
  },
  '.globe line': {
    stroke: 'var(--rule-strong)',
    strokeDasharray: '2 4',
  },
  '.globe text': {
    fill: 'var(--ink-3)',
    fontSize: 10.5,
    textAnchor: 'middle',
    pointerEvents: 'none',
  },
  '.globe-light': {
    stroke: 'var(--ink-2)',
    strokeWidth: 1.5,
    cursor: 'grab',
  },
  '.globe-light.chosen': {
    stroke: 'var(--clay)',
    strokeWidth: 3,
  },
} as const

export const LightGlobeStyles = pageStyles(styles)
