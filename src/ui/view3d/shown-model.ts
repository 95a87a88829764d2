import * as THREE from 'three'
import { PLAIN_MATERIAL } from '@/core/geometry/polygon-mesh'
import type { DisplayTriangles } from '@/core/geometry/display-triangles'
import { isSeen } from '@/core/scene/part-role'
import { copyMatrices } from '@/core/scene/placement'
import type { ProjectModel, ProjectPart } from '@/data/project-schema'
import type { LoadedModel } from '@/engine/read-model-in-worker'

/** Accent of chosen parts, display values 0…1. */
const CHOSEN = [210 / 255, 100 / 255, 58 / 255] as const

/** How models are painted: by their materials, all alike, or by part. */
export type Paint = 'materials' | 'clay' | 'white' | 'parts'

/** Triangles of one material in one part. */
interface Run {
  readonly part: number
  readonly material: number
  readonly first: number
  readonly end: number
}

function runsOf({ partStarts, materials }: DisplayTriangles): Run[] {
  const runs: Run[] = []
  for (let part = 0; part + 1 < partStarts.length; part++) {
    for (let first = partStarts[part]; first < partStarts[part + 1];) {
      let end = first + 1
      while (end < partStarts[part + 1] && materials[end] === materials[first]) end++
      runs.push({ part, material: materials[first], first, end })
      first = end
    }
  }
  return runs
}

const linear = (rgb: readonly number[]): [number, number, number] => {
  const { r, g, b } = new THREE.Color().setRGB(rgb[0], rgb[1], rgb[2], THREE.SRGBColorSpace)
  return [r, g, b]
}

export interface ShownLook {
  /** Keys of the parts in the accent colour. */
  readonly chosen: ReadonlySet<string>
  /** Keys of the parts shown alone; null shows all that are not off. */
  readonly solo: ReadonlySet<string> | null
  readonly paint: Paint
  /** Display colour of a part, for `parts`. */
  readonly partColour: (key: string) => readonly [number, number, number]
}

/**
 * One model in the interactive view. Its geometry is handed to the graphics card once; a change of role, colour or
 * choice recolours only the parts it touches and lists anew which runs of triangles are drawn.
 */
export class ShownModel {
  readonly group = new THREE.Group()
  readonly runs: readonly Run[]
  private readonly geometry = new THREE.BufferGeometry()
  private readonly colours: THREE.BufferAttribute
  private readonly plain = new THREE.MeshLambertMaterial({ vertexColors: true, side: THREE.DoubleSide })
  /** Materials that are more than a matte colour, by number: pictures, glass, gloss and glow. */
  private readonly special = new Map<number, THREE.MeshPhongMaterial>()
  private readonly pictures: (THREE.Texture | null)[]
  /** What each run was last coloured by. */
  private looks: string[] = []
  private copies = ''
  private closed = false
  private model: ProjectModel | null = null

  /** @param onPicture told when a picture has come in, so that the view can be drawn again. */
  constructor(
    readonly loaded: LoadedModel,
    onPicture: () => void,
  ) {
    const { display, textures } = loaded
    this.runs = runsOf(display)
    this.colours = new THREE.BufferAttribute(new Uint16Array(display.positions.length), 3, true)
    this.geometry.setAttribute('position', new THREE.BufferAttribute(display.positions, 3))
    this.geometry.setAttribute('normal', new THREE.BufferAttribute(display.normals, 3))
    this.geometry.setAttribute('color', this.colours)
    if (display.uvs) this.geometry.setAttribute('uv', new THREE.BufferAttribute(display.uvs, 2))
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
      this.looks = []
      onPicture()
    } catch {
      // What is no picture shows as its plain colour; the report of the import names it.
    }
  }

  update(model: ProjectModel, look: ShownLook): void {
    this.model = model
    this.place(model)
    this.dress(model, look)
    this.colour(model, look)
    this.show(model, look)
  }

  private place(model: ProjectModel): void {
    const transforms = copyMatrices(model.placement, model.copies)
    const key = JSON.stringify(transforms)
    if (key === this.copies) return
    this.copies = key
    this.group.clear()
    for (const m of transforms) {
      const mesh = new THREE.Mesh<THREE.BufferGeometry, THREE.Material[]>(this.geometry, this.materials())
      mesh.frustumCulled = false
      mesh.matrixAutoUpdate = false
      mesh.matrix.set(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11], 0, 0, 0, 1)
      this.group.add(mesh)
    }
    this.group.updateMatrixWorld(true)
  }

  /** A list even of one: only then are the geometry's groups obeyed. */
  private materials(): THREE.Material[] {
    return [this.plain, ...this.special.values()]
  }

  /** What is more than a matte colour gets a material of its own. */
  private dress(model: ProjectModel, look: ShownLook): void {
    const before = [...this.special.keys()].join()
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
        shown = new THREE.MeshPhongMaterial({ vertexColors: true, side: THREE.DoubleSide })
        this.special.set(m, shown)
      }
      shown.map = picture
      shown.color.setScalar(picture ? own.textureBrightness : 1)
      shown.alphaTest = material.alpha === 'cut' ? Math.max(0.01, material.alphaCut) : 0
      shown.transparent = own.opacity < 1 || material.alpha === 'blend'
      shown.opacity = own.opacity
      shown.emissive.setRGB(...own.emission, THREE.SRGBColorSpace)
      // A lobe as wide as that of the passes: exponent 2 / α² − 2 with α = roughness² (Walter et al. 2007).
      shown.shininess = Math.max(1, 2 / Math.max(0.05, own.roughness) ** 4 - 2)
      shown.specular.setScalar(own.highlight)
      shown.needsUpdate = true
    })
    if ([...this.special.keys()].join() === before) return
    const materials = this.materials()
    for (const mesh of this.group.children) if (mesh instanceof THREE.Mesh) mesh.material = materials
  }

  private colour(model: ProjectModel, look: ShownLook): void {
    const { colours: painted } = this.loaded.display
    const array = this.colours.array as Uint16Array
    const clay = look.paint === 'white' ? ([1, 1, 1] as const) : ([0.847, 0.812, 0.761] as const)
    this.runs.forEach((run, r) => {
      const part = model.parts[run.part] as ProjectPart | undefined
      const own = model.materials[run.material]
      if (!part || !own) return
      const isChosen = look.chosen.has(part.key)
      const rgb = isChosen
        ? CHOSEN
        : look.paint === 'materials'
          ? own.baseColour
          : look.paint === 'parts'
            ? look.partColour(part.key)
            : clay
      const usePaint = painted !== null && look.paint === 'materials' && !isChosen
      const key = `${rgb.join()} ${usePaint}`
      if (this.looks[r] === key) return
      this.looks[r] = key
      const base = linear(rgb).map((v) => v * 65535)
      for (let i = 9 * run.first; i < 9 * run.end; i++) array[i] = base[i % 3]
      if (usePaint) for (let i = 9 * run.first; i < 9 * run.end; i++) array[i] *= LINEAR[painted[i]]
      this.colours.addUpdateRange(9 * run.first, 9 * (run.end - run.first))
      this.colours.needsUpdate = true
    })
  }

  /** Lists the runs of triangles whose parts are seen; neighbours of one material are drawn together. */
  private show(model: ProjectModel, { solo }: ShownLook): void {
    this.geometry.clearGroups()
    const order = [...this.special.keys()]
    let open: { first: number; end: number; material: number } | null = null
    const close = () => {
      if (open) this.geometry.addGroup(3 * open.first, 3 * (open.end - open.first), open.material)
    }
    for (const run of this.runs) {
      const part = model.parts[run.part] as ProjectPart | undefined
      const isShown = part && (solo ? solo.has(part.key) : isSeen(part))
      if (!isShown) continue
      const material = this.special.has(run.material) ? 1 + order.indexOf(run.material) : 0
      if (open && open.end === run.first && open.material === material) open.end = run.end
      else {
        close()
        open = { first: run.first, end: run.end, material }
      }
    }
    close()
  }

  /** Key of the part of a triangle. */
  partOf(triangle: number): string | undefined {
    const { partStarts } = this.loaded.display
    let low = 0
    let high = partStarts.length - 2
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (partStarts[middle] <= triangle) low = middle
      else high = middle - 1
    }
    return this.model?.parts[low]?.key
  }

  dispose(): void {
    this.closed = true
    this.geometry.dispose()
    for (const material of this.materials()) material.dispose()
    for (const picture of this.pictures) picture?.dispose()
  }
}

/** Display values 0…255 as linear light. */
const LINEAR = Float32Array.from({ length: 256 }, (_, v) => linear([v / 255, 0, 0])[0])
