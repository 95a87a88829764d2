import { z } from 'zod'
import { defineTerm } from './term-kind'

/** A grey picture over the whole sheet; white shows. */
export const pictureTerm = defineTerm({
  kind: 'picture',
  version: 1,
  label: 'Picture',
  summary: 'A grey picture: white shows, black hides.',
  shape: { pictureId: z.string() },
})
