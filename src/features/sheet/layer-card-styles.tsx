import GlobalStyles from '@mui/material/GlobalStyles'

const styles = {
  '.card': {
    position: 'relative',
    width: 106,
    flex: 'none',
    height: 134,
    background: 'var(--raised)',
    border: '1px solid var(--rule-strong)',
    borderRadius: 5,
    overflow: 'hidden',
    transition: 'transform 140ms, opacity 140ms',
    cursor: 'grab',
    display: 'flex',
    flexDirection: 'column',
    userSelect: 'none',
  },
  ".card[aria-selected='true']": {
    border: '2px solid var(--clay)',
    transform: 'translateY(-5px)',
    boxShadow: '0 5px 12px #0002',
  },
  ".card[data-peeled='true']": {
    transform: 'rotate(3deg) translateY(4px)',
    opacity: 0.45,
  },
  ".card[data-register='out']": {
    borderStyle: 'dashed',
    borderColor: 'var(--ochre-ring)',
  },
  '.card-picture': {
    height: 82,
    background: 'repeating-conic-gradient(#dcd8d0 0 25%, #efece6 0 50%) 0 0 / 10px 10px',
    position: 'relative',
    flex: 'none',
  },
  '.card-picture canvas': {
    width: '100%',
    height: '100%',
    display: 'block',
  },
  ".card[data-hidden='true'] .card-picture canvas": {
    opacity: 0,
  },
  ".card[data-hidden='true'] .card-picture": {
    background: 'none',
    borderBottom: '1px dashed var(--rule-strong)',
  },
  '.card-corner': {
    position: 'absolute',
    right: 0,
    top: 0,
    width: 0,
    height: 0,
    borderTop: '20px solid #26221d',
    borderLeft: '20px solid transparent',
  },
  '.card-text': {
    padding: '3px 8px 0',
    lineHeight: 1.35,
    minWidth: 0,
    flex: 1,
  },
  '.card-name': {
    fontWeight: 620,
    whiteSpace: 'nowrap',
    overflow: 'hidden',
    textOverflow: 'ellipsis',
  },
  '.card-mode': {
    display: 'flex',
    justifyContent: 'space-between',
    fontSize: 11.5,
    color: 'var(--ink-2)',
    whiteSpace: 'nowrap',
    gap: 4,
  },
  '.card-mode > span:first-child': {
    overflow: 'hidden',
    textOverflow: 'ellipsis',
  },
  '.card-edge': {
    height: 9,
    background: 'var(--rule)',
    cursor: 'ew-resize',
    flex: 'none',
    touchAction: 'none',
  },
  '.card-edge > div': {
    height: '100%',
    background: 'var(--slate)',
  },
  ".card[aria-selected='true'] .card-edge > div": {
    background: 'var(--clay)',
  },
  ".card-corner[data-lost='true']": {
    borderTopColor: 'var(--ochre-ring)',
  },
} as const

export const LayerCardStyles = () => <GlobalStyles styles={styles} />
