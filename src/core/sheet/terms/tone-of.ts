import type { MapMeasure, MapRequest } from '../../passes/shot-maps'

/** Where a term looks: at another layer, or, where none is named, at what lies beneath its own. */
export const toneOf = (layer: string, measure: MapMeasure): MapRequest =>
  layer === '' ? { from: 'beneath', measure } : { from: 'layer', id: layer, measure }
