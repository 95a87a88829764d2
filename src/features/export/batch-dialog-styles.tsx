import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.batch': {
    display: 'grid',
    gridTemplateColumns: '220px minmax(260px, 1fr) minmax(340px, 1.5fr)',
    gap: 24,
    height: 460,
  },
  '.batch fieldset': { border: 0, margin: 0, padding: 0, minWidth: 0 },
  '.batch-what': { overflow: 'auto' },
  '.batch-what ul': { listStyle: 'none', margin: '0 0 8px', padding: 0 },
  '.batch-what ul + ul': { borderTop: '1px solid var(--rule)', paddingTop: 8 },
  '.batch-what label': { display: 'flex', alignItems: 'center', gap: 8, minHeight: 28 },
  '.batch-what label > span:nth-of-type(1)': {
    flex: 1,
    minWidth: 0,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  '.batch-what .quiet': { maxWidth: 84, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '.batch-sizes, .batch-to': { display: 'flex', flexWrap: 'wrap', gap: 10, justifyContent: 'flex-end' },
  '.batch-sizes .link': { padding: '2px 0', borderBottom: '2px solid transparent', textDecoration: 'none' },
  '.batch-sizes [aria-pressed=true]': { fontWeight: 650, borderBottomColor: 'var(--clay)' },
  '.batch-files': { display: 'flex', flexDirection: 'column', minHeight: 0 },
  '.batch-table': { flex: 1, minHeight: 0, overflow: 'auto', border: '1px solid var(--rule)' },
  '.batch-table table': { width: '100%', borderCollapse: 'collapse' },
  '.batch-table th': {
    position: 'sticky',
    top: 0,
    textAlign: 'left',
    fontWeight: 600,
    padding: '6px 10px',
    background: 'var(--paper)',
    borderBottom: '1px solid var(--rule-strong)',
  },
  '.batch-table td': { padding: '4px 10px', overflowWrap: 'anywhere', verticalAlign: 'top' },
  '.batch-table td + td': { whiteSpace: 'nowrap', fontVariantNumeric: 'tabular-nums' },
  '.batch-table .bad': { color: 'var(--ochre)', whiteSpace: 'normal' },
} as const

export const BatchDialogStyles = pageStyles(styles)
