import type { Recipe } from '../recipe-schema'
import { blueprintWire } from './blueprint-wire'
import { clayAndContour } from './clay-and-contour'
import { etchedPlate } from './etched-plate'
import { flatPoster } from './flat-poster'
import { fogBank } from './fog-bank'
import { inkWash } from './ink-wash'
import { meshPresentation } from './mesh-presentation'
import { nightGlow } from './night-glow'
import { pencilSheet } from './pencil-sheet'
import { risenSun } from './risen-sun'
import { twoColourPrint } from './two-colour-print'
import { warmSculptStudy } from './warm-sculpt-study'

/** Our own recipes, in the order they are offered. Adding one is its file and its line here. */
export const READY_RECIPES: readonly Recipe[] = [
  clayAndContour,
  warmSculptStudy,
  inkWash,
  pencilSheet,
  etchedPlate,
  twoColourPrint,
  flatPoster,
  blueprintWire,
  meshPresentation,
  nightGlow,
  risenSun,
  fogBank,
]
