import GlobalStyles from '@mui/material/GlobalStyles'

const styles = {
  '.rename-list': {
    listStyle: 'none',
    margin: 0,
    padding: 0,
    marginTop: 12,
  },
} as const

export const RenameDialogStyles = () => <GlobalStyles styles={styles} />
