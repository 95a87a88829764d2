export { overKept, overKeptMasked, overKeptWeighed, overWeighed, withinWeighed } from './blend'
export {
  blocksToRows,
  decode,
  encode,
  fill,
  keep,
  open,
  premultiply,
  rowsToBlocks,
  straighten,
  toBytes,
  toWords,
} from './pixels'
export {
  mixBack,
  toMask,
  weighAll,
  weighByAlpha,
  weighByKeptAlpha,
  weighByMask,
  weighByTone,
} from './weights'
