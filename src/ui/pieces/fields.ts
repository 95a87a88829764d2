/** An inspector: its sections and rows, and the fields in them. */
export const fields = {
  '.slide': {
    display: 'block',
    minWidth: 0,
  },
  '.inspector': {
    borderLeft: '1px solid var(--rule)',
    overflow: 'auto',
    padding: 16,
    background: 'var(--paper)',
  },
  '.inspector.footed': { display: 'flex', flexDirection: 'column', overflow: 'hidden', padding: 0 },
  '.inspector-scroll': { flex: 1, minHeight: 0, overflow: 'auto', padding: '16px 16px 0' },
  '.inspector-foot': {
    padding: '10px 16px 12px',
    borderTop: '1px solid var(--rule-strong)',
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
  '.section-head > span:last-child:not(:first-child)': {
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
    // A finger scrubs to the sides, and scrolls the panel up and down.
    touchAction: 'pan-y',
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
  '.check': {
    display: 'flex',
    alignItems: 'center',
    gap: 8,
    minHeight: 28,
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
