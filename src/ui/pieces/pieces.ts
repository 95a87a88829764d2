import { buttons } from './buttons'
import { fields } from './fields'
import { page } from './page'

/** The look of what every step is built from. What only one component has lies beside it, in its own `…-styles.tsx`. */
export const pieces = { ...page, ...buttons, ...fields } as const
