import { z } from 'zod'

/** Numbers about a whole rendered picture, or lists of them. */
export const passFactsSchema = z.record(z.string(), z.union([z.number(), z.array(z.number())]))
export type PassFacts = z.infer<typeof passFactsSchema>
