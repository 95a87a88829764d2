import { colourVariables } from './colours'

/**
 * The look of what every step is built from: page, text, sections and rows of an inspector, pills, fields, notes. What only
 * one component has lies beside it, in its own `…-styles.tsx`.
 */
export const pieces = {
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
  '.slide': {
    display: 'block',
    minWidth: 0,
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
  '.pill': {
    border: '1px solid var(--rule-strong)',
    borderRadius: 14,
    padding: '3px 12px',
    background: 'var(--raised)',
    color: 'var(--ink-2)',
    whiteSpace: 'nowrap',
    overflow: 'hidden',
    textOverflow: 'ellipsis',
  },
  'button.pill': {
    font: 'inherit',
    cursor: 'pointer',
  },
  '.pill.attention': {
    background: 'var(--ochre-paper)',
    borderColor: 'var(--ochre-ring)',
    color: 'var(--ochre)',
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
  '.inspector': {
    borderLeft: '1px solid var(--rule)',
    overflow: 'auto',
    padding: 16,
    background: 'var(--paper)',
  },
  '.inspector h2': {
    fontSize: 20,
    margin: 0,
    lineHeight: 1.15,
    overflowWrap: 'anywhere',
  },
  '.inspector-head': {
    display: 'flex',
    justifyContent: 'space-between',
    alignItems: 'baseline',
    gap: 8,
    paddingBottom: 12,
  },
  '.section': {
    borderTop: '1px solid var(--rule)',
    padding: '12px 0',
  },
  '.section-head': {
    display: 'flex',
    justifyContent: 'space-between',
    alignItems: 'center',
    marginBottom: 6,
    fontWeight: 650,
    minHeight: 22,
  },
  '.section-head > span:last-child': {
    fontWeight: 400,
  },
  '.row': {
    display: 'grid',
    gridTemplateColumns: '92px 1fr 82px',
    alignItems: 'center',
    gap: 10,
    minHeight: 28,
    color: 'var(--ink-2)',
  },
  '.row > label, .row > .label': {
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  '.row .wide': {
    gridColumn: '2 / -1',
  },
  '.scrub': {
    width: 50,
    border: 0,
    borderBottom: '1px solid transparent',
    background: 'none',
    color: 'var(--ink)',
    font: 'inherit',
    fontWeight: 650,
    textAlign: 'right',
    cursor: 'ew-resize',
    padding: '2px 0',
  },
  '.scrub:hover, .scrub:focus': {
    borderBottomColor: 'var(--rule-strong)',
  },
  '.unit': {
    color: 'var(--ink-3)',
    fontSize: 11,
    marginLeft: 3,
    display: 'inline-block',
    minWidth: 16,
  },
  '.is-default .scrub': {
    fontWeight: 450,
  },
  '.swatch': {
    width: 30,
    height: 22,
    border: '1px solid var(--rule-strong)',
    borderRadius: 5,
    padding: 0,
    background: 'none',
    cursor: 'pointer',
  },
  '.swatch::-webkit-color-swatch-wrapper': {
    padding: 2,
  },
  '.swatch::-webkit-color-swatch': {
    border: 0,
    borderRadius: 3,
  },
  '.link': {
    background: 'none',
    border: 0,
    font: 'inherit',
    color: 'var(--slate)',
    cursor: 'pointer',
    padding: '2px 4px',
    borderRadius: 4,
  },
  '.link:hover': {
    color: 'var(--clay)',
  },
  '.link:disabled': {
    color: 'var(--ink-3)',
    opacity: 0.6,
    cursor: 'default',
  },
  '.icon-button': {
    background: 'none',
    border: 0,
    color: 'var(--ink-2)',
    cursor: 'pointer',
    width: 24,
    height: 24,
    display: 'inline-grid',
    placeItems: 'center',
    borderRadius: 4,
    padding: 0,
    font: 'inherit',
  },
  '.icon-button:hover': {
    background: 'var(--low)',
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
    gap: 16,
    fontSize: 12,
    pointerEvents: 'none',
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
  '.plain-select': {
    font: 'inherit',
    color: 'inherit',
    background: 'transparent',
    border: 0,
    borderBottom: '1px solid var(--rule)',
    padding: '2px 0',
  },
  '.plain-select option': {
    background: 'var(--raised)',
    color: 'var(--ink)',
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
  '.term': {
    display: 'flex',
    alignItems: 'center',
    gap: 8,
    borderBottom: '1px dotted var(--rule-strong)',
    minHeight: 30,
  },
  '.term .sign': {
    color: 'var(--clay)',
    fontWeight: 700,
    width: 14,
    textAlign: 'center',
  },
  '.term .what': {
    flex: 1,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  "input[type='checkbox']": {
    accentColor: 'var(--clay)',
  },
  '.pick-head': {
    padding: '6px 6px 2px',
    fontWeight: 620,
  },
  '.pick-list label i': {
    width: 11,
    height: 11,
    borderRadius: '50%',
    boxShadow: 'inset 0 0 0 1px #0003',
  },
  '.pick-list': {
    maxHeight: 204,
    overflow: 'auto',
    border: '1px solid var(--rule)',
    borderRadius: 6,
    padding: 4,
  },
  '.pick-list label': {
    display: 'flex',
    gap: 8,
    alignItems: 'center',
    padding: '3px 6px',
  },
  '.pick-list label:hover': {
    background: 'var(--low)',
  },
  kbd: {
    font: 'inherit',
    fontSize: 11.5,
    border: '1px solid var(--rule-strong)',
    borderRadius: 4,
    padding: '1px 6px',
    background: 'var(--paper)',
    whiteSpace: 'nowrap',
  },
  '.row > :last-child:not(:nth-child(2))': {
    textAlign: 'right',
  },
  // Below the header: notes never cover what can be pressed there.
  '.notistack-SnackbarContainer': {
    top: '54px !important',
    pointerEvents: 'none',
  },
  '.notistack-SnackbarContainer button': {
    pointerEvents: 'auto',
  },
  '.segments': {
    display: 'flex',
    flex: 'none',
  },
  '.segments button': {
    font: 'inherit',
    fontSize: 12,
    padding: '3px 9px',
    background: 'none',
    border: '1px solid var(--rule-strong)',
    marginLeft: -1,
    color: 'var(--ink-2)',
    cursor: 'pointer',
  },
  '.segments button:first-child': {
    borderRadius: '12px 0 0 12px',
  },
  '.segments button:last-child': {
    borderRadius: '0 12px 12px 0',
  },
  ".segments [aria-checked='true']": {
    background: 'var(--slate)',
    borderColor: 'var(--slate)',
    color: 'var(--paper)',
  },
  '.over-view': {
    position: 'absolute',
    top: 10,
    left: '50%',
    transform: 'translateX(-50%)',
    whiteSpace: 'nowrap',
    zIndex: 2,
  },
  '.pills': {
    display: 'flex',
    flexWrap: 'wrap',
    gap: 6,
  },
  "button.pill[aria-pressed='true']": {
    background: 'var(--slate)',
    borderColor: 'var(--slate)',
    color: 'var(--paper)',
  },
  'button.pill:disabled': {
    opacity: 0.5,
    cursor: 'default',
  },
  '.check': {
    display: 'flex',
    alignItems: 'center',
    gap: 8,
    minHeight: 28,
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
  '.title-input': {
    lineHeight: 1.15,
    width: '100%',
    borderBottom: '1px solid transparent',
    textOverflow: 'ellipsis',
    border: 0,
    background: 'none',
    color: 'inherit',
    padding: 0,
    minWidth: 0,
    flex: 1,
    fontSize: 20,
    fontWeight: 600,
  },
  '.title-input:hover, .title-input:focus': {
    borderBottomColor: 'var(--rule-strong)',
  },
  '.plain-text': {
    font: 'inherit',
    minWidth: 0,
    width: '100%',
    color: 'var(--ink)',
    background: 'transparent',
    border: 0,
    borderBottom: '1px solid var(--rule-strong)',
    padding: '3px 0',
  },
  '.row.two': {
    gridTemplateColumns: 'auto minmax(0, 1fr)',
  },
  '.MuiDialogContent-root .row.two': {
    gridTemplateColumns: '160px minmax(0, 1fr)',
  },
  '.busy .progress': {
    display: 'block',
    margin: '2px 0 0',
  },
  '.busy .progress > div': {
    width: '30%',
  },
  "button.pill[role='radio'][aria-checked='true']": {
    background: 'var(--slate)',
    borderColor: 'var(--slate)',
    color: 'var(--paper)',
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
  '.row[data-idle] label, .row[data-idle] .label, .row[data-idle] .scrub, .row[data-idle] .unit': {
    opacity: 0.55,
  },
  '.param-group': {
    borderTop: '1px solid var(--rule)',
    marginTop: 4,
  },
  '.param-group > summary': {
    display: 'flex',
    alignItems: 'center',
    justifyContent: 'space-between',
    minHeight: 28,
    cursor: 'pointer',
    listStyle: 'none',
  },
  '.param-group > summary > span:first-child::before': {
    content: "'+'",
    display: 'inline-block',
    width: 16,
  },
  '.param-group[open] > summary > span:first-child::before': {
    content: "'−'",
  },
  '.param-group[open]': {
    paddingBottom: 6,
  },
  '.idle-note': {
    margin: '0 0 6px',
    fontSize: 12,
    color: 'var(--ink-3)',
  },
  // Numbers that change under the hand, or stand under one another, keep their places.
  '.scrub, .number, .row b': {
    fontVariantNumeric: 'tabular-nums',
  },
} as const
