import { pageStyles } from './page-styles'

const styles = {
  '.finder-list': {
    listStyle: 'none',
    margin: '8px 0 0',
    padding: 0,
    maxHeight: 320,
    overflow: 'auto',
  },
  '.finder-list li': {
    display: 'flex',
    justifyContent: 'space-between',
    padding: '6px 10px',
    borderRadius: 5,
    cursor: 'pointer',
  },
  ".finder-list li[aria-selected='true']": {
    background: 'var(--low)',
  },
} as const

export const CommandFinderStyles = pageStyles(styles)
