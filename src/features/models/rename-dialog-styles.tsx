import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.rename-list': {
    listStyle: 'none',
    margin: 0,
    padding: 0,
    marginTop: 12,
  },
} as const

export const RenameDialogStyles = pageStyles(styles)
