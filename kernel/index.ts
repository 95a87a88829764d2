export { build } from './build'
export { anyHits, closestHits } from './trace'
