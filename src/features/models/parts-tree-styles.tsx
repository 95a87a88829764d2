import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.parts': {
    overflow: 'auto',
    padding: '8px 0 40px',
  },
  '.part-row': {
    display: 'grid',
    gridTemplateColumns: '28px minmax(160px, 2fr) 96px minmax(120px, 1fr) 100px',
    alignItems: 'center',
    gap: 10,
    padding: '0 16px',
    height: 30,
    border: 0,
  },
  '.part-row:hover': {
    background: 'var(--raised)',
  },
  ".part-row[aria-selected='true']": {
    background: 'var(--low)',
    boxShadow: 'inset 3px 0 var(--clay)',
  },
  '.part-row.off': {
    color: 'var(--ink-3)',
  },
  '.part-row .name': {
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
    cursor: 'default',
  },
  '.part-row input.rename': {
    font: 'inherit',
    width: '100%',
    background: 'var(--raised)',
    color: 'var(--ink)',
    border: '1px solid var(--clay)',
    borderRadius: 4,
    padding: '2px 6px',
  },
  '.part-row select': {
    font: 'inherit',
    color: 'inherit',
    background: 'transparent',
    border: 0,
    borderBottom: '1px solid var(--rule)',
    padding: '2px 0',
    appearance: 'none',
    borderBottomColor: 'transparent',
    textAlign: 'right',
    cursor: 'pointer',
    width: '100%',
  },
  '.part-row select option': {
    background: 'var(--raised)',
    color: 'var(--ink)',
  },
  '.number': {
    textAlign: 'right',
  },
  '.part-material': {
    display: 'flex',
    alignItems: 'center',
    gap: 6,
    minWidth: 0,
    color: 'var(--ink-3)',
    fontSize: 12,
  },
  '.part-material > span:last-child': {
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  '.part-material i': {
    width: 11,
    height: 11,
    flex: 'none',
    borderRadius: '50%',
    boxShadow: 'inset 0 0 0 1px #0003',
  },
  ".part-row select[data-role='subject']": {
    color: 'var(--ink-3)',
  },
  ".part-row select[data-role='ground'], .part-row select[data-role='unseen']": {
    color: 'var(--slate)',
    fontWeight: 620,
  },
  '.part-row select:hover, .part-row select:focus-visible': {
    borderBottomColor: 'var(--rule-strong)',
    color: 'var(--ink)',
  },
  '.part-row.part': {
    contentVisibility: 'auto',
    containIntrinsicSize: 'auto 30px',
  },
  '.part-row.model .name': {
    font: "600 16px 'Fraunces Variable', Georgia, serif",
  },
  '.part-row.group .name': {
    fontWeight: 650,
  },
  '.part-row.drop': {
    boxShadow: 'inset 0 0 0 2px var(--clay)',
  },
  '.named': {
    display: 'flex',
    alignItems: 'center',
    minWidth: 0,
    gap: 2,
  },
  '.named input.rename': {
    minWidth: 0,
  },
  '.fold': {
    background: 'none',
    border: 0,
    padding: 0,
    width: 16,
    flex: 'none',
    color: 'var(--ink-3)',
    cursor: 'pointer',
  },
  '.row-note': {
    whiteSpace: 'nowrap',
    fontSize: 12,
  },
  '.no-rows': {
    padding: '12px 16px',
  },
} as const

export const PartsTreeStyles = pageStyles(styles)
