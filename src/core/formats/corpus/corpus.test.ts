import { describe, expect, it } from 'vitest'
import { UnreadableFileError } from '../../errors'
import { faceCount, meshBounds, validateMesh } from '../../geometry/polygon-mesh'
import { readModel } from '../model-readers'
import { HARD_GLTF } from './hard-gltf'
import { HARD_OBJ } from './hard-obj'
import { HARD_PLY } from './hard-ply'
import { HARD_STL } from './hard-stl'

/** Hard files for each reader: all are read as they are meant, or refused by name with the reason. */
describe.each([
  ['OBJ', HARD_OBJ],
  ['glTF', HARD_GLTF],
  ['PLY', HARD_PLY],
  ['STL', HARD_STL],
] as const)('%s', (_format, list) => {
  it('meets sixty hard files and more, no two alike', () => {
    expect(list.length).toBeGreaterThanOrEqual(60)
    expect(new Set(list.map((file) => file.name)).size).toBe(list.length)
  })
  it.each(list.map((file) => [file.name, file] as const))('%s', async (_name, file) => {
    const read = readModel(file.files, file.entry)
    if (file.want instanceof RegExp) {
      await expect(read).rejects.toBeInstanceOf(UnreadableFileError)
      await expect(read).rejects.toThrow(file.want)
      await expect(read).rejects.toThrow(file.entry)
      return
    }
    const model = await read
    validateMesh(model.mesh)
    expect(faceCount(model.mesh)).toBe(file.want)
    for (const n of model.mesh.cornerNormals) expect(Number.isFinite(n)).toBe(true)
    if (file.size) {
      const bounds = meshBounds(model.mesh)
      expect(bounds?.max.map((v, axis) => Number((v - bounds.min[axis]).toFixed(5)))).toEqual(file.size)
    }
    for (const code of file.warns ?? []) expect(model.warnings.map((w) => w.code)).toContain(code)
  })
})
