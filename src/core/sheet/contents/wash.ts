import { defineContent } from './content-kind'

/** No pixels of its own. */
export const washContent = defineContent({
  kind: 'wash',
  version: 1,
  label: 'Wash',
  summary: 'Has no pixels: its effects work on all that lies beneath it in its group.',
  shape: {},
})
