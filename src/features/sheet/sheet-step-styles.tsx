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
  '.sheet-step .rack': {
    gridColumn: '1 / -1',
  },
  '.seam': {
    position: 'absolute',
    top: 0,
    bottom: 0,
    width: 24,
    marginLeft: -12,
    cursor: 'ew-resize',
    border: 0,
    background: 'none',
    padding: 0,
    touchAction: 'none',
  },
  '.seam::before': {
    content: "''",
    position: 'absolute',
    left: 11,
    top: 0,
    bottom: 0,
    width: 2,
    background: '#fff',
    boxShadow: '0 0 3px #000a',
  },
  '.seam-label': {
    position: 'absolute',
    top: 10,
    padding: '2px 8px',
    background: '#0009',
    color: '#fff',
    borderRadius: 4,
    fontSize: 11.5,
    pointerEvents: 'none',
  },
} as const

export const SheetStepStyles = pageStyles(styles)
