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

export const LINE_KIND_LABELS: Readonly<Record<LineKind, string>> = {
  silhouette: 'Silhouette',
  border: 'Border',
  part: 'Between parts',
  material: 'Between materials',
  intersection: 'Where parts meet',
  crease: 'Crease',
  suggestive: 'Suggestive',
  shadow: 'Shadow edge',
  wire: 'Polygon edge',
}

/** A kind as packed arrays keep it. */
export const kindNumber = (kind: LineKind): number => LINE_KINDS.indexOf(kind)
