import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.parts-head': {
    display: 'flex',
    alignItems: 'center',
    gap: 10,
    padding: '10px 16px',
    borderBottom: '1px solid var(--rule)',
  },
  '.drop-veil': {
    position: 'absolute',
    inset: 12,
    border: '2px dashed var(--clay)',
    borderRadius: 10,
    background: 'color-mix(in srgb, var(--paper) 85%, transparent)',
    display: 'grid',
    placeItems: 'center',
    zIndex: 5,
    fontSize: 18,
    pointerEvents: 'none',
  },
  '.models-split': {
    display: 'grid',
    gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)',
    minHeight: 0,
    flex: 1,
  },
  '.models-split .parts': {
    borderRight: '1px solid var(--rule)',
  },
  '.models-split .part-row': {
    gridTemplateColumns: '24px minmax(110px, 1.1fr) minmax(80px, 0.9fr) 52px 74px',
    gap: 8,
  },
  // Models
  '.parts-column': {
    display: 'flex',
    flexDirection: 'column',
    minWidth: 0,
    minHeight: 0,
    borderRight: '1px solid var(--rule)',
    containerType: 'inline-size',
  },
  '.models-split .parts-column .parts': {
    borderRight: 0,
    flex: 1,
    minHeight: 0,
  },
  '.models-split .part-row.group, .models-split .part-row.model': {
    gridTemplateColumns: '24px minmax(0, 1fr) auto',
    height: 36,
  },
  // Little room, as where a page is zoomed in twice: of a material its colour is seen, and its name where the pointer rests.
  '@container (max-width: 410px)': {
    '.models-split .part-row': {
      gridTemplateColumns: '24px minmax(80px, 1fr) 11px 50px 66px',
    },
    '.models-split .part-material': {
      overflow: 'hidden',
    },
  },
} as const

export const ModelsStepStyles = pageStyles(styles)
