export { blurByDepth, extremeShifted, gatherOffset, smoothPainterly, sumShifted } from './area'
export { overKept, overKeptMasked, overKeptWeighed, overWeighed, withinWeighed } from './blend'
export { filterAcross, filterDown, grow, repeatBorder, shrink } from './blur'
export { byBrightness, fromOklab, throughCube, toOklab, turnOklab } from './colour'
export { noiseSquare } from './noise'
export {
  blocksToRows,
  clampColours,
  copy,
  decode,
  encode,
  fill,
  halve,
  keep,
  keptFlags,
  makeOpaque,
  maskFlags,
  open,
  premultiply,
  rowsToBlocks,
  straighten,
  throughTables,
  toBytes,
  toWords,
} from './pixels'
export { premultiplyRows, resizeAcross1, resizeAcross4, resizeDown, straightenRows } from './resize'
export { smoothSurfaces } from './smooth'
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
export {
  addGrain,
  mixAway,
  mixTowards,
  screenOver,
  screenTowards,
  sharpen,
  standOut,
  tintRanges,
  turnByNormal,
  wearOff,
  weighByDarks,
  weighByEllipse,
  weighByNumbers,
  weighByRange,
  weighBySide,
  weighByTooth,
  weighByTurn,
} from './points'
export {
  gatherKept,
  layColour,
  layMask,
  layPicture,
  pressTip,
  sampleRows,
  takeAway,
  turnTone,
  workOver,
} from './stamp'
