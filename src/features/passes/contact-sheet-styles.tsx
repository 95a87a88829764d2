import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.contact': {
    position: 'relative',
    display: 'grid',
    gap: 14,
    padding: '16px 16px 32px',
    placeContent: 'center',
    overflow: 'auto',
    height: '100%',
  },
  // The spot under the pointer, in every picture at once.
  ".contact[data-pointing='true'] .contact-picture::after": {
    content: "''",
    position: 'absolute',
    left: 'var(--spot-x)',
    top: 'var(--spot-y)',
    width: 13,
    height: 13,
    margin: '-7px 0 0 -7px',
    border: '1px solid #fff',
    borderRadius: '50%',
    boxShadow: '0 0 0 1px #0009, inset 0 0 0 1px #0009',
    pointerEvents: 'none',
  },
  '.contact-cell': {
    background: 'none',
    border: 0,
    padding: 0,
    textAlign: 'left',
    font: 'inherit',
    color: '#f4f2ee',
    cursor: 'pointer',
    minWidth: 0,
  },
  '.contact-picture': {
    position: 'relative',
    width: '100%',
    background: 'repeating-conic-gradient(#9a9a98 0 25%, #a6a6a4 0 50%) 0 0 / 14px 14px',
    outline: '1px solid #0003',
    overflow: 'hidden',
  },
  ".contact-cell[aria-pressed='true'] .contact-picture": {
    outline: '3px solid var(--clay)',
  },
  ".contact-cell[data-state='out of register'] .contact-picture": {
    outline: '2px dashed var(--ochre-ring)',
  },
  '.contact-picture canvas': {
    width: '100%',
    height: '100%',
    position: 'absolute',
    inset: 0,
    imageRendering: 'auto',
  },
  '.region': {
    position: 'absolute',
    border: '1px solid #fff',
    boxShadow: '0 0 0 1px #0009, inset 0 0 0 1px #0009',
    pointerEvents: 'none',
  },
  ".contact[data-tool='region'] .contact-picture": {
    cursor: 'crosshair',
  },
  ".contact[data-tool='lens'] .contact-picture": {
    cursor: 'none',
  },
  '.contact-progress': {
    position: 'absolute',
    left: 0,
    bottom: 0,
    height: 3,
    background: 'var(--clay)',
  },
  '.contact-tools': {
    position: 'absolute',
    top: 0,
    right: 16,
    display: 'flex',
    gap: 6,
  },
  '.chip': {
    font: 'inherit',
    fontSize: 11.5,
    border: 0,
    borderRadius: '0 0 6px 6px',
    padding: '2px 9px 3px',
    background: 'color-mix(in srgb, var(--paper) 88%, transparent)',
    color: 'var(--ink)',
    cursor: 'pointer',
  },
  ".chip[aria-pressed='true']": {
    background: 'var(--clay)',
    color: '#fff',
  },
  '.contact-label': {
    display: 'flex',
    gap: 8,
    marginTop: 5,
    alignItems: 'baseline',
    textShadow: '0 0 3px #0008',
    whiteSpace: 'nowrap',
    overflow: 'hidden',
  },
  '.contact-label b': {
    fontWeight: 650,
  },
  '.contact-label span': {
    opacity: 0.9,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
  },
  '.blank': {
    position: 'absolute',
    inset: 0,
    display: 'grid',
    placeItems: 'center',
    color: '#1d1c1a',
    background: '#8f8f8d',
    fontSize: 13,
    padding: 8,
    textAlign: 'center',
  },
  ".contact-picture[data-lines='true']": {
    background: '#fff',
  },
} as const

export const ContactSheetStyles = pageStyles(styles)
