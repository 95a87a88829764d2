export { overKept, overKeptMasked, overKeptWeighed, overWeighed, withinWeighed } from './blend'
export { filterAcross, filterDown, grow, repeatBorder, shrink } from './blur'
export {
  blocksToRows,
  decode,
  encode,
  fill,
  keep,
  keptFlags,
  maskFlags,
  open,
  premultiply,
  rowsToBlocks,
  straighten,
  throughTable,
  toBytes,
  toWords,
} from './pixels'
export {
  maskToBlocks,
  mixBack,
  toMask,
  weighAll,
  weighByAlpha,
  weighByKeptAlpha,
  weighByMask,
  weighByTone,
} from './weights'
