import { pageStyles } from '@/ui/page-styles'

const styles = {
  '.plain-fieldset': {
    border: 0,
    padding: 0,
    margin: 0,
    minWidth: 0,
  },
  '.plain-fieldset:disabled': {
    opacity: 0.6,
  },
} as const

export const CameraPanelStyles = pageStyles(styles)
