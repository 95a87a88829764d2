import * as THREE from 'three'
import { PLAIN_MATERIAL } from '@/core/geometry/polygon-mesh'
import { isSeen } from '@/core/scene/part-role'
import { copyMatrices } from '@/core/scene/placement'
import type { ProjectModel, ProjectPart } from '@/data/project-schema'
import type { LoadedModel } from '@/engine/read-model-in-worker'
import { ShownPieces, type PieceMesh } from './shown-pieces'

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

/** Layers of the view. What is in none of the last two is always drawn. */
export const LAYER = {
  always: 0,
  /** Drawn alone onto one pixel, so that the graphics card has it. */
  dock: 1,
  /** The few triangles of a heavy model, and all of them. */
  coarse: 2,
  fine: 3,
  /** What one step of a picture in steps draws. */
  step: 4,
} as const

/** What the view needs of a model that was read. */
export type ShownSource = Pick<LoadedModel, 'materials' | 'textures' | 'display' | 'coarse'>

/**
 * One model in the interactive view. A change of role, colour or choice only lists anew which runs of triangles are drawn in
 * which colour. One of many triangles has a coarse form beside its fine one.
 */
export class ShownModel {
  readonly group = new THREE.Group()
  private readonly fine: ShownPieces
  private readonly coarse: ShownPieces
  /** Matte materials by their colour, and whether the mesh's own colours go into it. */
  private readonly plain = new Map<string, THREE.MeshLambertMaterial>()
  /** Materials that are more than a matte colour, by number: pictures, glass, gloss and glow. */
  private readonly special = new Map<number, THREE.MeshPhongMaterial>()
  private readonly pictures: (THREE.Texture | null)[]
  private copies = ''
  private closed = false
  private seen: { readonly model: ProjectModel; readonly look: ShownLook } | null = null

  /** @param onPicture told when a picture has come in, so that the view can be drawn again. */
  constructor(
    readonly loaded: ShownSource,
    onPicture: () => void,
  ) {
    const { textures, display, coarse } = loaded
    this.fine = new ShownPieces(display, coarse.length > 0 ? LAYER.fine : LAYER.always)
    this.coarse = new ShownPieces(coarse, LAYER.coarse)
    this.group.add(this.coarse.group, this.fine.group)
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
    return this.coarse.waiting + this.fine.waiting
  }

  /** Whether all of the coarse form is there, if it has one: it can be seen. */
  get isThere(): boolean {
    return this.coarse.waiting === 0 && (this.fine.waiting === 0 || this.isHeavy)
  }

  /** Whether it has a coarse form. */
  get isHeavy(): boolean {
    return this.loaded.coarse.length > 0
  }

  /** Meshes of its fine form, where it has a coarse one. */
  get heavyMeshes(): readonly PieceMesh[] {
    return this.isHeavy ? this.fine.meshes : []
  }

  /** Takes up the next piece, of the coarse form first; it is drawn from now on. @returns its meshes. */
  takePiece(): readonly PieceMesh[] {
    const { seen } = this
    if (!seen) return []
    const next = this.coarse.waiting > 0 ? this.coarse : this.fine
    return next.take((run) => this.materialOf(seen.model, seen.look, run))
  }

  /** A mesh that needs every program which drawing the model needs; null where it has no triangles. */
  sample(): THREE.Mesh | null {
    const { seen } = this
    const [{ geometry } = { geometry: null }] = [
      ...this.coarse.meshes,
      ...this.fine.meshes,
      ...this.takePiece(),
    ]
    if (!seen || !geometry) return null
    const runs = this.loaded.display.flatMap((piece) => piece.runs)
    const materials = new Set(runs.map((run) => this.materialOf(seen.model, seen.look, run)))
    return new THREE.Mesh(
      geometry,
      [...materials].filter((material) => material !== null),
    )
  }

  update(model: ProjectModel, look: ShownLook): void {
    this.seen = { model, look }
    this.dress(model, look)
    const transforms = copyMatrices(model.placement, model.copies)
    const key = JSON.stringify(transforms)
    const isPlacedAnew = key !== this.copies
    this.copies = key
    for (const pieces of [this.coarse, this.fine]) {
      if (isPlacedAnew) pieces.place(transforms)
      pieces.paint((run) => this.materialOf(model, look, run))
    }
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

  /** What a ray meets of it, nearest first; of the coarse form until all of the fine one is there. */
  hits(ray: THREE.Raycaster): THREE.Intersection[] {
    ray.layers.enableAll()
    return ray.intersectObject((this.isHeavy && this.fine.waiting > 0 ? this.coarse : this.fine).group, true)
  }

  /** Key of the part of a triangle of one of the group's meshes. */
  partOf(mesh: THREE.Object3D, triangle: number): string | undefined {
    const run = this.fine.runOf(mesh, triangle) ?? this.coarse.runOf(mesh, triangle)
    return run && this.seen?.model.parts[run.part]?.key
  }

  dispose(): void {
    this.closed = true
    this.coarse.dispose()
    this.fine.dispose()
    for (const material of [...this.plain.values(), ...this.special.values()]) material.dispose()
    for (const picture of this.pictures) picture?.dispose()
  }
}
