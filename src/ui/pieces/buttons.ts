/** What is pressed: pills, links, icons, segments. */
export const buttons = {
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
  // Words to press, in a row.
  '.quick': {
    display: 'flex',
    flexWrap: 'wrap',
    gap: '2px 12px',
    paddingBottom: 8,
  },
  '.quick .link': {
    padding: 0,
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
  "button.pill[role='radio'][aria-checked='true']": {
    background: 'var(--slate)',
    borderColor: 'var(--slate)',
    color: 'var(--paper)',
  },
} as const
