import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { Box3, Color, Mesh, type MeshStandardMaterial, type Object3D } from 'three'
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js'
import { describe, expect, it } from 'vitest'
import { reliefHere } from './testing/relief-here'

/** `relief scene`: what another reader finds in the file. */

const folder = mkdtempSync(path.join(tmpdir(), 'relief-scene-'))
const at = (...names: string[]) => path.join(folder, ...names)
writeFileSync(
  at('two.obj'),
  [
    'mtllib two.mtl',
    'o Sign',
    'v 0 0 0',
    'v 2 0 0',
    'v 2 1 0',
    'v 0 1 0',
    'usemtl red',
    'f 1 2 3 4',
    'o Post',
    'v 0 0 1',
    'v 1 0 1',
    'v 1 3 1',
    'v 0 3 1',
    'v 0.5 4 1',
    'usemtl blue',
    'f 5 6 7',
    'usemtl red',
    'f 5 7 9 8',
  ].join('\n'),
)
writeFileSync(at('two.mtl'), 'newmtl red\nKd 0.9 0.1 0.1\nnewmtl blue\nKd 0.1 0.1 0.9\nd 0.5\n')

const opened = async (file: string): Promise<Object3D> => {
  const { buffer } = new Uint8Array(readFileSync(file))
  const { scene } = await new GLTFLoader().parseAsync(buffer, '')
  scene.updateMatrixWorld(true)
  return scene
}
const meshesOf = (root: Object3D): Mesh[] => {
  const found: Mesh[] = []
  root.traverse((own) => own instanceof Mesh && found.push(own))
  return found
}
const triangles = (root: Object3D) =>
  meshesOf(root).reduce((sum, { geometry }) => sum + (geometry.index?.count ?? 0) / 3, 0)
const run = (...args: string[]) => {
  const { status, stderr } = reliefHere('scene', ...args)
  expect([status, stderr]).toEqual([0, ''])
}

describe('relief scene', () => {
  it('gives parts, triangles and materials to another reader', async () => {
    run(at('two.obj'), '--out', at('two.glb'))
    const root = await opened(at('two.glb'))
    expect(root.children.map(({ name }) => name)).toEqual(['Sign', 'Post'])
    expect(triangles(root)).toBe(5)
    const box = new Box3().setFromObject(root)
    expect([box.min.toArray(), box.max.toArray()]).toEqual([
      [0, 0, 0],
      [2, 4, 1],
    ])
    const materials = new Map(
      meshesOf(root).map(({ material }) => [
        (material as MeshStandardMaterial).name,
        material as MeshStandardMaterial,
      ]),
    )
    const red = materials.get('red')?.color ?? new Color()
    expect(red.getHex()).toBe(new Color().setRGB(0.9, 0.1, 0.1).getHex())
    expect([materials.get('blue')?.opacity, materials.get('blue')?.transparent]).toEqual([0.5, true])
    // Corners that are alike are kept once.
    const sign = meshesOf(root.children[0])[0]
    expect(sign.geometry.getAttribute('position').count).toBe(4)
  })
  it('gives a project with its groups, copies and colours, and the same picture when it is read again', async () => {
    run('demo/low-water.zip', '--out', at('low-water.glb'))
    const root = await opened(at('low-water.glb'))
    const said = JSON.parse(reliefHere('inspect', at('low-water.glb')).stdout) as {
      triangles: number
      parts: { name: string }[]
    }
    expect(triangles(root)).toBe(said.triangles)
    expect(said.triangles).toBeGreaterThan(20_000)
    expect(said.parts.length).toBeGreaterThan(60)
    const names = new Set<string>()
    root.traverse(({ name }) => names.add(name))
    for (const name of ['Roof', 'Cornice', 'Gull_wings']) expect(names).toContain(name)
  })
  it('leaves out what is not asked for, and refuses what is no such file or there already', () => {
    run(at('two.obj'), '--only', 'Post', '--out', at('post.glb'))
    expect(reliefHere('inspect', at('post.glb')).stdout).not.toMatch(/Sign/)
    const refused = (...args: string[]) => reliefHere('scene', at('two.obj'), ...args).stderr
    expect(refused('--out', at('a.obj'))).toMatch(/--out takes a file that ends in \.glb/)
    expect(refused('--out', at('post.glb'))).toMatch(/is already there/)
    expect(refused('--only', 'Mast', '--out', at('b.glb'))).toMatch(/there is no part "Mast"/)
    expect(existsSync(at('b.glb'))).toBe(false)
  })
})
