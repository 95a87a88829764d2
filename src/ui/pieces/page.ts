import { colourVariables } from '../colours'

/** Page, text, and what a step shows round its work. */
export const page = {
  ":root, [data-bench='light']": colourVariables('light'),
  "[data-bench='dark']": colourVariables('dark'),
  '*': {
    boxSizing: 'border-box',
  },
  'html, body': {
    height: '100%',
    margin: 0,
  },
  body: {
    background: 'var(--paper)',
    color: 'var(--ink)',
    font: "13px/1.4 'Instrument Sans Variable', system-ui, sans-serif",
    letterSpacing: 'normal',
  },
  '.display': {
    fontFamily: "'Fraunces Variable', Georgia, serif",
    fontWeight: 600,
  },
  ':focus-visible': {
    outline: '2px solid var(--clay)',
    outlineOffset: 1,
  },
  // The interface library draws the ring round the whole field.
  '.MuiInputBase-input:focus-visible': {
    outline: 'none',
  },
  '@media (prefers-reduced-motion: reduce)': {
    '*': {
      transition: 'none !important',
      animation: 'none !important',
    },
    '.progress.busy > div': {
      width: '100%',
      animation: 'none',
    },
  },
  '.bench-header': {
    gridColumn: '1 / -1',
    minHeight: 48,
    display: 'flex',
    alignItems: 'center',
    gap: 14,
    padding: '0 16px',
    borderBottom: '1px solid var(--rule)',
  },
  '.wordmark': {
    fontSize: 19,
    color: 'var(--ink)',
    textDecoration: 'none',
    whiteSpace: 'nowrap',
  },
  '.spacer': {
    flex: 1,
  },
  '.quiet': {
    color: 'var(--ink-3)',
  },
  '.step': {
    minWidth: 0,
    minHeight: 0,
    display: 'grid',
    gridTemplateColumns: 'minmax(0, 1fr) 292px',
    gridTemplateRows: 'minmax(0, 1fr)',
  },
  '.stage': {
    position: 'relative',
    overflow: 'hidden',
    minWidth: 0,
    minHeight: 0,
  },
  '.stage canvas': {
    display: 'block',
  },
  '.status': {
    position: 'absolute',
    left: 12,
    bottom: 8,
    right: 12,
    display: 'flex',
    alignItems: 'baseline',
    gap: 16,
    fontSize: 12,
    pointerEvents: 'none',
  },
  // It lies over the picture, which is dragged through it; what it holds to be pressed is pressed.
  '.status button': {
    pointerEvents: 'auto',
  },
  '.empty': {
    display: 'grid',
    placeItems: 'center',
    alignContent: 'center',
    gap: 10,
    height: '100%',
    padding: 32,
    textAlign: 'center',
    color: 'var(--ink-2)',
  },
  '.problem a, .empty a': {
    color: 'inherit',
  },
  '.empty h2': {
    fontSize: 24,
    margin: 0,
    color: 'var(--ink)',
  },
  '.empty p': {
    maxWidth: '46ch',
    margin: 0,
  },
  '.problem': {
    background: 'var(--ochre-paper)',
    color: 'var(--ochre)',
    border: '1px solid var(--ochre-ring)',
    borderRadius: 6,
    padding: '10px 12px',
  },
  '.problem ul': {
    margin: '4px 0 0',
    paddingLeft: 18,
  },
  // How far is not known: a piece runs along.
  '.progress.busy > div': {
    width: '30%',
    animation: 'run-along 1.4s ease-in-out infinite alternate',
  },
  '@keyframes run-along': {
    to: {
      transform: 'translateX(233%)',
    },
  },
  '.progress': {
    height: 4,
    background: 'var(--rule)',
    borderRadius: 2,
    overflow: 'hidden',
    margin: '6px 0',
  },
  '.progress > div': {
    height: '100%',
    background: 'var(--clay)',
  },
  // Below the header: notes never cover what can be pressed there.
  '.notistack-SnackbarContainer': {
    top: '54px !important',
    pointerEvents: 'none',
  },
  // White on them can be read.
  '.notistack-SnackbarContainer .notistack-MuiContent-warning': { backgroundColor: '#8a5207 !important' },
  '.notistack-SnackbarContainer .notistack-MuiContent-success': { backgroundColor: '#2f6b3c !important' },
  '.notistack-SnackbarContainer .notistack-MuiContent-error': { backgroundColor: '#b3261e !important' },
  '.notistack-SnackbarContainer button': {
    pointerEvents: 'auto',
  },
  '.over-view': {
    position: 'absolute',
    top: 10,
    left: '50%',
    transform: 'translateX(-50%)',
    whiteSpace: 'nowrap',
    zIndex: 2,
  },
  '.attention-text': {
    color: 'var(--ochre)',
  },
  '.ellipsis': {
    minWidth: 0,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  '.busy .progress': {
    display: 'block',
    margin: '2px 0 0',
  },
  '.busy .progress > div': {
    width: '30%',
  },
  // Also where a piece of the interface library would have its own way.
  '.unseen-text.unseen-text': {
    position: 'absolute',
    width: 1,
    height: 1,
    overflow: 'hidden',
    clipPath: 'inset(50%)',
    whiteSpace: 'nowrap',
  },
} as const
