import { z } from 'zod'
import type { DocumentKind } from '../../kinds'

export const TERM_JOINS = ['add', 'subtract', 'intersect'] as const
export type TermJoin = (typeof TERM_JOINS)[number]

/** What every term of a mask has. */
const common = {
  /** How it meets the terms above it. */
  join: z.enum(TERM_JOINS),
  enabled: z.boolean().default(true),
  /** All but what it names. */
  invert: z.boolean().default(false),
  /** Gaussian sigma of its edge, in sheet pixels. */
  featherPx: z.number().min(0).max(500).default(0),
  /** How much of it counts. */
  strength: z.number().min(0).max(1).default(1),
}

/** One line of a mask. Adding a term is one file with one of these and one line in the registry. */
export const defineTerm = <const K extends string, S extends z.ZodRawShape>(
  term: DocumentKind<K, S>,
): DocumentKind<K, S & typeof common> => ({ ...term, shape: { ...common, ...term.shape } })
