import type { SceneGeometry } from '@/core/scene/scene-geometry'
import type { BvhArrays } from '@/core/trace/build-bvh'
import { attachBvh } from '@/core/trace/build-bvh'

/** A scene geometry as it crosses between threads: shared memory is not copied, plain memory is. */
export type SceneTransfer = Omit<SceneGeometry, 'bvh'> & { readonly bvh: BvhArrays }

export function toTransfer(scene: SceneGeometry): SceneTransfer {
  const { nodeInts: _derived, ...bvh } = scene.bvh
  return { ...scene, bvh }
}

export const fromTransfer = (transfer: SceneTransfer): SceneGeometry => ({
  ...transfer,
  bvh: attachBvh(transfer.bvh),
})

/** Bytes held by a scene's arrays. */
export function sceneBytes(scene: SceneTransfer): number {
  const arrays = [...Object.values(scene), ...Object.values(scene.bvh)].filter((v) => ArrayBuffer.isView(v))
  return arrays.reduce((sum, array) => sum + array.byteLength, 0)
}
