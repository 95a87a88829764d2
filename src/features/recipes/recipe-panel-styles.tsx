import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.recipe-grid': {
    display: 'grid',
    gridTemplateColumns: '1fr 1fr',
    gap: '14px 12px',
  },
  '.recipe-picture': {
    width: '100%',
    aspectRatio: '16 / 10',
    objectFit: 'cover',
    display: 'block',
    borderRadius: 3,
  },
  '.recipe-form': {
    display: 'grid',
    gap: 8,
  },
  '.recipe-form label': {
    display: 'grid',
    gap: 2,
    color: 'var(--ink-2)',
  },
  '.recipe-questions': {
    listStyle: 'none',
    margin: 0,
    padding: 0,
    display: 'grid',
    gap: 10,
  },
  '.recipe-questions select': {
    display: 'block',
    width: '100%',
    marginTop: 2,
  },
  '.recipe-questions .used-by': {
    display: 'block',
    fontSize: 11.5,
  },
  '.recipe-passes': {
    listStyle: 'none',
    margin: 0,
    padding: 0,
  },
  '.recipe-passes li': {
    display: 'flex',
    justifyContent: 'space-between',
    minHeight: 24,
  },
  '.recipe-hang': {
    display: 'flex',
    alignItems: 'center',
    gap: 12,
    // Within reach, however much is listed above it.
    position: 'sticky',
    bottom: -16,
    marginBottom: -16,
    background: 'var(--paper)',
  },
} as const

export const RecipePanelStyles = pageStyles(styles)
