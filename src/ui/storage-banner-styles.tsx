import { pageStyles } from './page-styles'

const styles = {
  '.storage-banner': {
    position: 'fixed',
    inset: '0 0 auto',
    zIndex: 2000,
    padding: '10px 18px',
    background: 'var(--ochre-paper)',
    color: 'var(--ochre)',
    borderBottom: '1px solid var(--ochre-ring)',
    textAlign: 'center',
  },
} as const

export const StorageBannerStyles = pageStyles(styles)
