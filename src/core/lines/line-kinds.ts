/** Kinds of line, in the order in which one wins over another that runs along the same edge. */
export const LINE_KINDS = [
  'silhouette',
  'border',
  'part',
  'material',
  'intersection',
  'crease',
  'suggestive',
  'shadow',
  'wire',
] as const
export type LineKind = (typeof LINE_KINDS)[number]

/** A kind as packed arrays keep it. */
export const kindNumber = (kind: LineKind): number => LINE_KINDS.indexOf(kind)
