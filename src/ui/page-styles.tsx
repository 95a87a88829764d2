import GlobalStyles, { type GlobalStylesProps } from '@mui/material/GlobalStyles'

/**
 * Styles of a part of the page, as a component that stands within it. They are worked out when it first appears, not each time
 * that what stands around it is drawn.
 */
export function pageStyles(styles: GlobalStylesProps['styles']): () => React.JSX.Element {
  const element = <GlobalStyles styles={styles} />
  return function PageStyles() {
    return element
  }
}
