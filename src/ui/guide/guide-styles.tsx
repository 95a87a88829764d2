import { pageStyles } from '../page-styles'

const styles = {
  '.guide': {
    display: 'grid',
    gridTemplateColumns: '260px minmax(0, 1fr)',
    height: '100%',
    minHeight: 0,
  },
  '.guide > nav': {
    overflow: 'auto',
    padding: '16px 14px 24px 20px',
    borderRight: '1px solid var(--rule)',
  },
  '.guide > nav ul': { listStyle: 'none', margin: '4px 0 16px', padding: 0 },
  '.guide > nav section:first-of-type': { marginTop: 16 },
  '.guide > nav li .link': { padding: '3px 0', textAlign: 'left' },
  '.guide > nav [aria-current=page]': { fontWeight: 650, color: 'var(--clay)' },
  '.guide-found li': { padding: '6px 0', borderTop: '1px solid var(--rule)' },
  '.guide-found p': { margin: '2px 0 0', fontSize: 12.5, overflowWrap: 'anywhere' },
  '.guide > article': {
    overflow: 'auto',
    padding: '22px 36px 60px',
    lineHeight: 1.6,
    fontSize: 14.5,
  },
  '.guide > article > *': { maxWidth: 720 },
  '.guide > article h1': {
    fontFamily: "'Fraunces Variable', Georgia, serif",
    fontSize: 28,
    margin: '0 0 12px',
    lineHeight: 1.2,
  },
  '.guide > article h2': { fontSize: 18, margin: '26px 0 6px' },
  '.guide > article h3, .guide > article h4': { fontSize: 15, margin: '20px 0 4px' },
  '.guide > article p': { margin: '0 0 12px' },
  '.guide > article li': { marginBottom: 4 },
  '.guide > article img': { maxWidth: '100%', height: 'auto', borderRadius: 3, display: 'block' },
  '.guide > article a': { color: 'var(--slate)' },
  '.guide > article code': {
    fontSize: '0.92em',
    background: 'var(--low)',
    padding: '1px 4px',
    borderRadius: 2,
  },
  '.guide > article pre': {
    maxWidth: '100%',
    overflow: 'auto',
    background: 'var(--low)',
    padding: '10px 12px',
    borderRadius: 3,
  },
  '.guide > article pre code': { background: 'none', padding: 0 },
  '.guide > article table': {
    borderCollapse: 'collapse',
    maxWidth: '100%',
    display: 'block',
    overflow: 'auto',
  },
  '.guide > article th, .guide > article td': {
    borderBottom: '1px solid var(--rule)',
    padding: '5px 12px 5px 0',
    textAlign: 'left',
    verticalAlign: 'top',
  },
  '.guide-close': { font: "400 13.5px 'Instrument Sans Variable', sans-serif" },
  '.guide-dialog .MuiDialog-paper': { height: 'min(760px, calc(100vh - 48px))' },
  '.guide-dialog .MuiDialogContent-root': { padding: 0, overflow: 'hidden' },
  '@media (max-width: 760px)': {
    '.guide': { gridTemplateColumns: '1fr', gridTemplateRows: 'auto minmax(0, 1fr)' },
    '.guide > nav': { maxHeight: '38vh', borderRight: 0, borderBottom: '1px solid var(--rule)' },
  },
} as const

export const GuideStyles = pageStyles(styles)
