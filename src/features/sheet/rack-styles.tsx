import GlobalStyles from '@mui/material/GlobalStyles'

const styles = {
  '.rack': {
    background: 'var(--low)',
    borderTop: '1px solid var(--rule)',
    padding: '6px 18px 10px',
    minWidth: 0,
    display: 'flex',
    flexDirection: 'column',
  },
  '.peel': {
    position: 'relative',
    height: 24,
    flex: 'none',
    touchAction: 'none',
  },
  '.peel-line': {
    position: 'absolute',
    top: 11,
    height: 2,
    background: 'var(--clay)',
    left: 0,
  },
  '.peel-rest': {
    position: 'absolute',
    top: 11,
    height: 1,
    background: 'var(--rule-strong)',
    right: 0,
    left: 0,
  },
  '.peel-handle': {
    position: 'absolute',
    top: 3,
    width: 18,
    height: 18,
    marginLeft: -9,
    background: 'var(--clay)',
    border: 0,
    borderRadius: '50% 50% 50% 0',
    transform: 'rotate(-45deg)',
    cursor: 'grab',
    padding: 0,
  },
  '.peel-note': {
    position: 'absolute',
    top: 3,
    fontSize: 12,
    color: 'var(--ochre)',
    background: 'var(--low)',
    padding: '0 6px',
    whiteSpace: 'nowrap',
  },
  '.rack-scroll': {
    flex: 1,
    minHeight: 0,
    display: 'flex',
    flexDirection: 'column',
    overflowX: 'auto',
    overflowY: 'hidden',
    scrollbarWidth: 'thin',
    scrollbarColor: 'var(--rule-strong) transparent',
    scrollPaddingInline: 60,
    margin: '0 -12px',
    padding: '0 12px',
  },
  // Cards that hang beyond an edge fade into it.
  ".rack-scroll[data-more-right='true']": {
    maskImage: 'linear-gradient(to left, transparent, #000 56px)',
  },
  ".rack-scroll[data-more-left='true']": {
    maskImage: 'linear-gradient(to right, transparent, #000 56px)',
  },
  ".rack-scroll[data-more-left='true'][data-more-right='true']": {
    maskImage: 'linear-gradient(to right, transparent, #000 56px, #000 calc(100% - 56px), transparent)',
  },
  '.cards': {
    display: 'flex',
    gap: 10,
    width: 'max-content',
    padding: '8px 2px 6px',
    flex: 1,
    alignItems: 'flex-end',
  },
  '.card-list': {
    display: 'flex',
    gap: 10,
    alignItems: 'flex-end',
  },
  '.card-add': {
    width: 44,
    flex: 'none',
    height: 134,
    border: '1px dashed var(--rule-strong)',
    borderRadius: 5,
    background: 'none',
    color: 'var(--ink-2)',
    fontSize: 20,
    cursor: 'pointer',
  },
} as const

export const RackStyles = () => <GlobalStyles styles={styles} />
