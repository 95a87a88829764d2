import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.empty-sheet': {
    position: 'absolute',
    inset: 0,
    display: 'grid',
    placeContent: 'center',
    justifyItems: 'center',
    gap: 10,
    padding: 24,
    textAlign: 'center',
    color: '#4d463c',
  },
  '.empty-sheet h2': {
    margin: 0,
    fontSize: 24,
    color: '#26221d',
  },
  '.empty-sheet a': {
    color: '#3e5c66',
  },
  '.empty-sheet p': {
    maxWidth: '46ch',
    margin: 0,
  },
  '.sheet-step': {
    display: 'grid',
    gridTemplate: 'minmax(0, 1fr) 190px / minmax(0, 1fr) 292px',
    minHeight: 0,
    minWidth: 0,
  },
  ".sheet-step:has(.rack[data-small='true'])": {
    gridTemplateRows: 'minmax(0, 1fr) 122px',
  },
  '.sheet-pane': { display: 'grid', minWidth: 0, minHeight: 0, position: 'relative' },
  '.sheet-pane:has(> .making)': { gridTemplateRows: 'auto minmax(0, 1fr)' },
  '.sheet-step .rack': {
    gridColumn: '1 / -1',
  },
  '.sheet-thumbnail': {
    display: 'block',
    background: '#7b7b79',
    borderRadius: 2,
    flex: 'none',
  },
  '.kept-states, .history-list': {
    listStyle: 'none',
    margin: 0,
    padding: 0,
  },
  '.kept-states li': {
    display: 'flex',
    gap: 10,
    padding: '6px 0',
  },
  '.kept-states li > div': {
    display: 'grid',
    minWidth: 0,
    flex: 1,
    alignContent: 'start',
  },
  '.kept-states input': {
    width: '100%',
    minWidth: 0,
  },
  '.kept-states canvas': {
    width: 72,
    alignSelf: 'start',
  },
  '.kept-states .link': {
    paddingLeft: 0,
    marginRight: 6,
  },
  '.history-list button': {
    display: 'flex',
    width: '100%',
    gap: 10,
    alignItems: 'center',
    padding: '5px 4px',
    font: 'inherit',
    textAlign: 'left',
    color: 'var(--ink)',
    background: 'none',
    border: 0,
    borderRadius: 4,
    cursor: 'pointer',
  },
  '.history-list button:hover': {
    background: 'var(--low)',
  },
  ".history-list [aria-current='step']": {
    boxShadow: 'inset 2px 0 0 var(--clay)',
    background: 'var(--raised)',
  },
  ".history-list [data-undone='true']": {
    opacity: 0.55,
  },
  '.chosen-list': {
    listStyle: 'none',
    margin: 0,
    padding: 0,
  },
  '.chosen-list li': {
    display: 'flex',
    justifyContent: 'space-between',
    alignItems: 'baseline',
    minHeight: 26,
  },
} as const

export const SheetStepStyles = pageStyles(styles)
