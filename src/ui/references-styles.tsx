import { pageStyles } from './page-styles'

const styles = {
  '.references': {
    display: 'flex',
    flexDirection: 'column',
    flex: 'none',
    background: 'var(--low)',
    borderTop: '1px solid var(--rule)',
    minHeight: 0,
  },
  '.references.with-large': {
    flex: '1 1 50%',
  },
  '.reference-strip': {
    display: 'flex',
    gap: 8,
    padding: '8px 12px',
    overflowX: 'auto',
    flex: 'none',
  },
  '.reference': {
    position: 'relative',
    flex: 'none',
  },
  '.reference-small, .reference-large': {
    border: 0,
    padding: 0,
    background: 'none',
    cursor: 'zoom-in',
    display: 'block',
  },
  '.reference-small img': {
    height: 72,
    display: 'block',
    borderRadius: 3,
  },
  ".reference-small[aria-pressed='true'] img": {
    outline: '2px solid var(--clay)',
  },
  '.reference-large': {
    flex: 1,
    minHeight: 0,
    cursor: 'zoom-out',
    padding: '10px 12px 0',
  },
  '.reference-large img': {
    width: '100%',
    height: '100%',
    objectFit: 'contain',
  },
  '.reference .icon-button': {
    position: 'absolute',
    top: 3,
    right: 3,
    background: 'color-mix(in srgb, var(--raised) 82%, transparent)',
    opacity: 0,
  },
  '.reference:hover .icon-button, .reference .icon-button:focus-visible': {
    opacity: 1,
  },
  // A finger does not hover.
  '@media (hover: none)': { '.reference .icon-button': { opacity: 1 } },
} as const

export const ReferencesStyles = pageStyles(styles)
