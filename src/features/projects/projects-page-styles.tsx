import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.projects': {
    maxWidth: 1120,
    margin: '0 auto',
    padding: '28px 32px 60px',
  },
  '.projects-head': {
    margin: '32px 0 0',
    borderTop: '1px solid var(--rule)',
    paddingTop: 20,
    display: 'flex',
    alignItems: 'baseline',
    gap: 12,
  },
  '.projects-head h2': {
    fontSize: 20,
    margin: 0,
  },
  '.recipe-strip': {
    display: 'grid',
    gridTemplateColumns: 'repeat(6, minmax(0, 1fr))',
    gap: '18px 16px',
    marginTop: 18,
  },
  '.begin-title': {
    fontSize: 24,
    margin: 0,
  },
  '.begin-pictures': {
    display: 'grid',
    gridTemplateColumns: 'repeat(auto-fit, minmax(280px, 1fr))',
    gap: 16,
  },
  '.begin-pictures figure': {
    margin: 0,
  },
  '.begin-pictures img': {
    width: '100%',
    aspectRatio: '16 / 10',
    objectFit: 'cover',
    display: 'block',
    borderRadius: 3,
  },
  '.begin-ways': {
    display: 'flex',
    alignItems: 'center',
    flexWrap: 'wrap',
    gap: 16,
    marginTop: 16,
  },
  '.project-grid': {
    display: 'grid',
    gridTemplateColumns: 'repeat(auto-fill, minmax(300px, 1fr))',
    gap: '28px 24px',
    marginTop: 24,
    padding: 0,
    listStyle: 'none',
  },
  '.project-card a.picture': {
    display: 'block',
    aspectRatio: '16 / 10',
    background: '#7b7b79',
    borderRadius: 4,
    overflow: 'hidden',
  },
  '.project-card img': {
    width: '100%',
    height: '100%',
    objectFit: 'cover',
    display: 'block',
  },
  '.project-card .foot': {
    display: 'flex',
    alignItems: 'baseline',
    gap: 8,
    marginTop: 8,
  },
  '.project-card .name': {
    fontSize: 17,
    color: 'var(--ink)',
    textDecoration: 'none',
    flex: 1,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  '.no-picture': {
    height: '100%',
    display: 'grid',
    placeItems: 'center',
    color: '#000',
  },
  '.deleted-projects': {
    marginTop: 28,
    borderTop: '1px solid var(--rule)',
    paddingTop: 12,
  },
  '.deleted-projects summary': {
    cursor: 'pointer',
    fontWeight: 600,
  },
  '.deleted-projects ul': {
    listStyle: 'none',
    margin: '8px 0 0',
    padding: 0,
  },
  '.deleted-projects li': {
    display: 'flex',
    alignItems: 'baseline',
    gap: 12,
    padding: '5px 0',
  },
} as const

export const ProjectsPageStyles = pageStyles(styles)
