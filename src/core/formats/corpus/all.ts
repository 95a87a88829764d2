import type { HardFile } from './hard-file'
import { HARD_GLTF } from './hard-gltf'
import { HARD_OBJ } from './hard-obj'
import { HARD_PLY } from './hard-ply'
import { HARD_STL } from './hard-stl'

/** Hard files by the format whose reader they are for. */
export const CORPUS: readonly (readonly [format: string, files: readonly HardFile[]])[] = [
  ['OBJ', HARD_OBJ],
  ['glTF', HARD_GLTF],
  ['PLY', HARD_PLY],
  ['STL', HARD_STL],
]
export { fuzzOnce } from './fuzz'
