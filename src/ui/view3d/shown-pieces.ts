import * as THREE from 'three'
import type { DisplayPiece, DisplayRun } from '@/core/geometry/display-pieces'
import type { Affine } from '@/core/scene/placement'

export type PieceMesh = THREE.Mesh<THREE.BufferGeometry, THREE.Material[]>

/** A piece as the graphics card has it. */
interface ShownPiece {
  readonly piece: DisplayPiece
  readonly geometry: THREE.BufferGeometry
  /** One for each place the model stands in. */
  meshes: PieceMesh[]
}

function geometryOf(piece: DisplayPiece): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(piece.positions, 3))
  geometry.setAttribute('normal', new THREE.BufferAttribute(piece.normals, 4, true))
  if (piece.uvs) geometry.setAttribute('uv', new THREE.BufferAttribute(piece.uvs, 2))
  if (piece.colours) geometry.setAttribute('color', new THREE.BufferAttribute(piece.colours, 4, true))
  geometry.setIndex(new THREE.BufferAttribute(piece.indices, 1))
  geometry.boundingSphere = new THREE.Sphere(new THREE.Vector3(...piece.centre), piece.radius)
  return geometry
}

/** Says what a run of triangles is drawn with; null where it is not seen. */
export type MaterialOf = (run: DisplayRun) => THREE.Material | null

/**
 * A model's triangles in pieces, handed to the graphics card one after the other as the view finds time for them. What is
 * drawn in which colour is only a list of runs.
 */
export class ShownPieces {
  readonly group = new THREE.Group()
  private readonly shown: ShownPiece[] = []
  private transforms: readonly Affine[] = []

  /** @param layer of the view that they are drawn in. */
  constructor(
    private readonly pieces: readonly DisplayPiece[],
    private readonly layer: number,
  ) {}

  /** Pieces that are not on the graphics card yet. */
  get waiting(): number {
    return this.pieces.length - this.shown.length
  }

  /** Meshes that are there, one for each piece and place. */
  get meshes(): readonly PieceMesh[] {
    return this.shown.flatMap(({ meshes }) => meshes)
  }

  /** Takes up the next piece; it is drawn from now on. @returns its meshes; none where all are there. */
  take(materialOf: MaterialOf): readonly PieceMesh[] {
    const piece = this.pieces.at(this.shown.length)
    if (!piece) return []
    const shown: ShownPiece = { piece, geometry: geometryOf(piece), meshes: [] }
    this.shown.push(shown)
    this.stand(shown)
    paintPiece(shown, materialOf)
    return shown.meshes
  }

  /** Puts all of them wherever the model stands. */
  place(transforms: readonly Affine[]): void {
    this.transforms = transforms
    this.group.clear()
    for (const shown of this.shown) this.stand(shown)
  }

  paint(materialOf: MaterialOf): void {
    for (const shown of this.shown) paintPiece(shown, materialOf)
  }

  /** The run that a triangle of one of the meshes belongs to. */
  runOf(mesh: THREE.Object3D, triangle: number): DisplayRun | undefined {
    const shown = this.shown.find(({ meshes }) => meshes.some((own) => own === mesh))
    return shown?.piece.runs.find(({ first, count }) => triangle >= first && triangle < first + count)
  }

  dispose(): void {
    for (const { geometry } of this.shown) geometry.dispose()
  }

  private stand(shown: ShownPiece): void {
    shown.meshes = this.transforms.map((m) => {
      const mesh: PieceMesh = new THREE.Mesh(shown.geometry, [])
      mesh.layers.set(this.layer)
      mesh.matrixAutoUpdate = false
      mesh.matrix.set(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11], 0, 0, 0, 1)
      this.group.add(mesh)
      mesh.updateMatrixWorld(true)
      return mesh
    })
  }
}

/** Lists the runs of a piece that are seen; neighbours drawn alike are drawn together. */
function paintPiece({ piece, geometry, meshes }: ShownPiece, materialOf: MaterialOf): void {
  geometry.clearGroups()
  const materials: THREE.Material[] = []
  let open: { first: number; end: number; material: number } | null = null
  const close = () => {
    if (open) geometry.addGroup(3 * open.first, 3 * (open.end - open.first), open.material)
    open = null
  }
  for (const run of piece.runs) {
    const material = materialOf(run)
    if (!material) {
      close()
      continue
    }
    let index = materials.indexOf(material)
    if (index < 0) index = materials.push(material) - 1
    if (open && open.end === run.first && open.material === index) open.end = run.first + run.count
    else {
      close()
      open = { first: run.first, end: run.first + run.count, material: index }
    }
  }
  close()
  for (const mesh of meshes) mesh.material = materials
}
