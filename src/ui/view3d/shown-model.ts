import * as THREE from 'three'
import { PLAIN_MATERIAL } from '@/core/geometry/polygon-mesh'
import type { DisplayPiece } from '@/core/geometry/display-pieces'
import { isSeen } from '@/core/scene/part-role'
import { copyMatrices } from '@/core/scene/placement'
import type { ProjectModel, ProjectPart } from '@/data/project-schema'
import type { LoadedModel } from '@/engine/read-model-in-worker'

/** Accent of chosen parts, display values 0…1. */
const CHOSEN = [210 / 255, 100 / 255, 58 / 255] as const

/** How models are painted: by their materials, all alike, or by part. */
export type Paint = 'materials' | 'clay' | 'white' | 'parts'

export interface ShownLook {
  /** Keys of the parts in the accent colour. */
  readonly chosen: ReadonlySet<string>
  /** Keys of the parts shown alone; null shows all that are not off. */
  readonly solo: ReadonlySet<string> | null
  readonly paint: Paint
  /** Display colour of a part, for `parts`. */
  readonly partColour: (key: string) => readonly [number, number, number]
}

/** A piece as the graphics card has it. */
interface ShownPiece {
  readonly piece: DisplayPiece
  readonly geometry: THREE.BufferGeometry
  /** One for each place the model stands in. */
  meshes: THREE.Mesh<THREE.BufferGeometry, THREE.Material[]>[]
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

/**
 * One model in the interactive view. Its pieces are handed to the graphics card one after the other, as the view finds
 * time for them; a change of role, colour or choice only lists anew which runs of triangles are drawn in which colour.
 */
export class ShownModel {
  readonly group = new THREE.Group()
  private readonly pieces: ShownPiece[] = []
  /** Matte materials by their colour, and whether the mesh's own colours go into it. */
  private readonly plain = new Map<string, THREE.MeshLambertMaterial>()
  /** Materials that are more than a matte colour, by number: pictures, glass, gloss and glow. */
  private readonly special = new Map<number, THREE.MeshPhongMaterial>()
  private readonly pictures: (THREE.Texture | null)[]
  private transforms: ReturnType<typeof copyMatrices> = []
  private copies = ''
  private closed = false
  private seen: { readonly model: ProjectModel; readonly look: ShownLook } | null = null

  /** @param onPicture told when a picture has come in, so that the view can be drawn again. */
  constructor(
    readonly loaded: LoadedModel,
    onPicture: () => void,
  ) {
    const { textures } = loaded
    this.pictures = textures.map(() => null)
    textures.forEach(({ bytes }, i) => {
      if (bytes) void this.load(bytes, i, onPicture)
    })
  }

  private async load(bytes: Uint8Array<ArrayBuffer>, index: number, onPicture: () => void): Promise<void> {
    try {
      const bitmap = await createImageBitmap(new Blob([bytes]), { imageOrientation: 'flipY' })
      if (this.closed) return
      const texture = new THREE.Texture(bitmap)
      texture.flipY = false
      texture.colorSpace = THREE.SRGBColorSpace
      texture.wrapS = texture.wrapT = THREE.RepeatWrapping
      texture.anisotropy = 4
      texture.needsUpdate = true
      this.pictures[index] = texture
      onPicture()
    } catch {
      // What is no picture shows as its plain colour; the report of the import names it.
    }
  }

  /** Pieces that are not on the graphics card yet. */
  get waiting(): number {
    return this.loaded.display.length - this.pieces.length
  }

  /** Takes up the next piece; it is drawn from now on. @returns its meshes; none where all are there. */
  takePiece(): readonly THREE.Object3D[] {
    if (this.waiting === 0 || !this.seen) return []
    const piece = this.loaded.display[this.pieces.length]
    const shown: ShownPiece = { piece, geometry: geometryOf(piece), meshes: [] }
    this.pieces.push(shown)
    this.stand(shown)
    this.paint(shown, this.seen.model, this.seen.look)
    return shown.meshes
  }

  update(model: ProjectModel, look: ShownLook): void {
    this.seen = { model, look }
    this.dress(model, look)
    const transforms = copyMatrices(model.placement, model.copies)
    const key = JSON.stringify(transforms)
    if (key !== this.copies) {
      this.copies = key
      this.transforms = transforms
      this.group.clear()
      for (const shown of this.pieces) this.stand(shown)
    }
    for (const shown of this.pieces) this.paint(shown, model, look)
  }

  /** Puts a piece wherever the model stands. */
  private stand(shown: ShownPiece): void {
    shown.meshes = this.transforms.map((m) => {
      const mesh = new THREE.Mesh<THREE.BufferGeometry, THREE.Material[]>(shown.geometry, [])
      mesh.matrixAutoUpdate = false
      mesh.matrix.set(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11], 0, 0, 0, 1)
      this.group.add(mesh)
      mesh.updateMatrixWorld(true)
      return mesh
    })
  }

  /** What is more than a matte colour gets a material of its own. */
  private dress(model: ProjectModel, look: ShownLook): void {
    this.loaded.materials.forEach((material, m) => {
      const own = model.materials[m]
      const picture = material.texture === null ? null : this.pictures[material.texture]
      const glows = own?.emission.some((v) => v > 0)
      const shines =
        own && (own.highlight !== PLAIN_MATERIAL.highlight || own.roughness < PLAIN_MATERIAL.roughness)
      const wanted = own && (picture !== null || own.opacity < 1 || glows || shines)
      if (look.paint !== 'materials' || !wanted) {
        this.special.get(m)?.dispose()
        this.special.delete(m)
        return
      }
      let shown = this.special.get(m)
      if (!shown) {
        shown = new THREE.MeshPhongMaterial({ side: THREE.DoubleSide })
        this.special.set(m, shown)
      }
      shown.map = picture
      const brightness = picture ? own.textureBrightness : 1
      shown.color.setRGB(...own.baseColour, THREE.SRGBColorSpace).multiplyScalar(brightness)
      shown.vertexColors = this.isPainted
      shown.alphaTest = material.alpha === 'cut' ? Math.max(0.01, material.alphaCut) : 0
      shown.transparent = own.opacity < 1 || material.alpha === 'blend'
      shown.opacity = own.opacity
      shown.emissive.setRGB(...own.emission, THREE.SRGBColorSpace)
      // A lobe as wide as that of the passes: exponent 2 / α² − 2 with α = roughness² (Walter et al. 2007).
      shown.shininess = Math.max(1, 2 / Math.max(0.05, own.roughness) ** 4 - 2)
      shown.specular.setScalar(own.highlight)
      shown.needsUpdate = true
    })
  }

  /** Whether the mesh has colours of its own. */
  private get isPainted(): boolean {
    return this.loaded.display.some((piece) => piece.colours !== null)
  }

  private matte(rgb: readonly [number, number, number], painted: boolean): THREE.Material {
    const key = `${rgb.join()} ${painted}`
    let material = this.plain.get(key)
    if (!material) {
      material = new THREE.MeshLambertMaterial({ side: THREE.DoubleSide, vertexColors: painted })
      material.color.setRGB(...rgb, THREE.SRGBColorSpace)
      this.plain.set(key, material)
    }
    return material
  }

  /** What a run of triangles is drawn with; null where it is not seen. */
  private materialOf(
    model: ProjectModel,
    { chosen, solo, paint, partColour }: ShownLook,
    run: { readonly part: number; readonly material: number },
  ): THREE.Material | null {
    const part = model.parts[run.part] as ProjectPart | undefined
    const own = model.materials[run.material]
    if (!part || !own || !(solo ? solo.has(part.key) : isSeen(part))) return null
    if (chosen.has(part.key)) return this.matte(CHOSEN, false)
    if (paint === 'parts') return this.matte([...partColour(part.key)], false)
    if (paint === 'white') return this.matte([1, 1, 1], false)
    if (paint === 'clay') return this.matte([0.847, 0.812, 0.761], false)
    return this.special.get(run.material) ?? this.matte([...own.baseColour], this.isPainted)
  }

  /** Lists the runs of a piece that are seen; neighbours drawn alike are drawn together. */
  private paint({ piece, geometry, meshes }: ShownPiece, model: ProjectModel, look: ShownLook): void {
    geometry.clearGroups()
    const materials: THREE.Material[] = []
    let open: { first: number; end: number; material: number } | null = null
    const close = () => {
      if (open) geometry.addGroup(3 * open.first, 3 * (open.end - open.first), open.material)
      open = null
    }
    for (const run of piece.runs) {
      const material = this.materialOf(model, look, run)
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

  /** Key of the part of a triangle of one of the group's meshes. */
  partOf(mesh: THREE.Object3D, triangle: number): string | undefined {
    const shown = this.pieces.find(({ meshes }) => meshes.some((own) => own === mesh))
    const run = shown?.piece.runs.find(({ first, count }) => triangle >= first && triangle < first + count)
    return run && this.seen?.model.parts[run.part]?.key
  }

  dispose(): void {
    this.closed = true
    for (const { geometry } of this.pieces) geometry.dispose()
    for (const material of [...this.plain.values(), ...this.special.values()]) material.dispose()
    for (const picture of this.pictures) picture?.dispose()
  }
}
