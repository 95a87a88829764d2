import type { SceneGeometry } from '@/core/scene/scene-geometry'
import { treeFromTransfer, treeToTransfer, type RayTreeTransfer } from '@/core/trace/ray-tree'

/** A scene geometry as it crosses between threads: shared memory is not copied, plain memory is. */
export type SceneTransfer = Omit<SceneGeometry, 'tree'> & { readonly tree: RayTreeTransfer }

export const toTransfer = (scene: SceneGeometry): SceneTransfer => ({
  ...scene,
  tree: treeToTransfer(scene.tree),
})

export const fromTransfer = (transfer: SceneTransfer): SceneGeometry => ({
  ...transfer,
  tree: treeFromTransfer(transfer.tree),
})

/** Bytes held by a scene: its hierarchy with the triangles, and its arrays. */
export function sceneBytes(scene: SceneGeometry): number {
  const arrays = Object.values(scene).filter((v) => ArrayBuffer.isView(v))
  return scene.tree.bytes + arrays.reduce((sum, array) => sum + array.byteLength, 0)
}
