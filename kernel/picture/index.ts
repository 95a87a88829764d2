export { overKept, overKeptMasked, overKeptWeighed, overWeighed, withinWeighed } from './blend'
export { filterAcross, filterDown, grow, repeatBorder, shrink } from './blur'
export {
  blocksToRows,
  copy,
  decode,
  encode,
  fill,
  keep,
  keptFlags,
  makeOpaque,
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
