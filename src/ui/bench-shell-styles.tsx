import { pageStyles } from './page-styles'

const styles = {
  '.bench': {
    display: 'grid',
    gridTemplate: '48px 1fr / 84px 1fr',
    height: '100vh',
    // Below this the window is scrolled, as where a page is zoomed in twice.
    minWidth: 980,
    minHeight: 600,
    overflow: 'hidden',
  },
  // What colours alone tell is told by lines where a person chose the colours.
  '@media (forced-colors: active)': {
    '.rail [aria-current=page] .numeral': { outline: '3px solid Highlight', outlineOffset: 2 },
    '.bench .MuiButton-contained': { border: '2px solid ButtonText' },
    '.bench [aria-pressed=true], .bench [aria-checked=true], .bench [aria-selected=true]': {
      outline: '2px solid Highlight',
    },
  },
  '.rail': {
    borderRight: '1px solid var(--rule)',
    display: 'flex',
    flexDirection: 'column',
    gap: 4,
    padding: '14px 0',
  },
  '.rail a': {
    display: 'flex',
    flexDirection: 'column',
    alignItems: 'center',
    gap: 3,
    padding: '7px 0',
    color: 'var(--ink-3)',
    textDecoration: 'none',
    fontSize: 12,
  },
  '.rail .numeral': {
    width: 32,
    height: 32,
    borderRadius: '50%',
    border: '1.5px solid var(--rule-strong)',
    display: 'grid',
    placeItems: 'center',
    fontSize: 15,
    background: 'var(--raised)',
    color: 'var(--ink-2)',
  },
  ".rail a[data-state='ready'] .numeral": {
    borderColor: 'var(--slate)',
    color: 'var(--slate)',
  },
  ".rail a[data-state='out'] .numeral": {
    border: '2px dashed var(--ochre-ring)',
    color: 'var(--ochre)',
  },
  ".rail a[data-state='rendering'] .numeral": {
    border: '2px solid var(--clay)',
    borderRightColor: 'transparent',
    // In steps: what is drawn sixty times a second is drawn by the cores that render.
    animation: 'spin 1.6s steps(8) infinite',
  },
  ".rail a[data-state='rendering'] .numeral span": {
    animation: 'spin 1.6s steps(8, jump-start) infinite reverse',
  },
  '@keyframes spin': {
    to: {
      transform: 'rotate(360deg)',
    },
  },
  ".rail a[aria-current='page']": {
    color: 'var(--ink)',
    fontWeight: 600,
  },
  ".rail a[aria-current='page'] .numeral": {
    background: 'var(--ink)',
    borderColor: 'var(--ink)',
    color: 'var(--paper)',
    borderStyle: 'solid',
  },
  '.bench-main': {
    display: 'grid',
    gridTemplateColumns: 'minmax(0, 1fr)',
    gridTemplateRows: 'minmax(0, 1fr)',
    minWidth: 0,
    minHeight: 0,
  },
  '.bench-main:has(> .step-hint)': {
    gridTemplateRows: 'auto minmax(0, 1fr)',
  },
  '.step-hint': {
    display: 'flex',
    alignItems: 'baseline',
    gap: 14,
    padding: '5px 16px',
    borderBottom: '1px solid var(--rule)',
    background: 'var(--low)',
  },
  '.step-hint p': {
    margin: 0,
    flex: 1,
  },
  '.project-name': {
    display: 'inline',
    font: 'inherit',
    fontWeight: 650,
    margin: 0,
  },
} as const

export const BenchShellStyles = pageStyles(styles)
