import { pageStyles } from './page-styles'

const styles = {
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

export const OverPictureStyles = pageStyles(styles)
