import * as THREE from 'three'
import type { DisplayTriangles } from '@/core/geometry/display-triangles'
import type { ProjectModel } from '@/data/project-schema'

/** Accent of chosen parts, display values 0…255. */
const CHOSEN = [210, 100, 58] as const

/**
 * One model in the interactive view. Its geometry is handed to the graphics card once; a change of role, colour or
 * choice recolours only the parts it touches and lists anew which runs of triangles are drawn.
 */
export class ShownModel {
  readonly mesh: THREE.Mesh
  private readonly geometry = new THREE.BufferGeometry()
  private readonly colours: THREE.BufferAttribute
  /** What each part was last coloured by. */
  private partLooks: string[] = []

  constructor(readonly display: DisplayTriangles) {
    this.colours = new THREE.BufferAttribute(new Uint16Array(display.positions.length), 3, true)
    this.geometry.setAttribute('position', new THREE.BufferAttribute(display.positions, 3))
    this.geometry.setAttribute('normal', new THREE.BufferAttribute(display.normals, 3))
    this.geometry.setAttribute('color', this.colours)
    const material = new THREE.MeshLambertMaterial({ vertexColors: true, side: THREE.DoubleSide })
    // A list of one: only then are the geometry's groups obeyed.
    this.mesh = new THREE.Mesh(this.geometry, [material])
    this.mesh.frustumCulled = false
  }

  update(model: ProjectModel, chosen: ReadonlySet<string>): void {
    const { position, turnDeg, scale } = model.placement
    this.mesh.position.set(...position)
    this.mesh.rotation.y = (turnDeg * Math.PI) / 180
    this.mesh.scale.setScalar(scale)
    this.colour(model, chosen)
    this.show(model)
  }

  private colour(model: ProjectModel, chosen: ReadonlySet<string>): void {
    const { partStarts, materials } = this.display
    const array = this.colours.array as Uint16Array
    // Vertex colours are taken as linear light.
    const linear = (rgb: readonly number[]) => {
      const { r, g, b } = new THREE.Color().setRGB(rgb[0], rgb[1], rgb[2], THREE.SRGBColorSpace)
      return [r * 65535, g * 65535, b * 65535]
    }
    const palette = model.materials.map((m) => linear(m.baseColour))
    const accent = linear(CHOSEN.map((v) => v / 255))
    model.parts.forEach((part, p) => {
      const isChosen = chosen.has(part.key)
      const look = isChosen
        ? 'chosen'
        : part.materials.map((m) => model.materials[m].baseColour.join()).join(' ')
      if (this.partLooks[p] === look) return
      this.partLooks[p] = look
      const [first, end] = [partStarts[p], partStarts[p + 1]]
      for (let t = first; t < end; t++) {
        const rgb = isChosen ? accent : palette[materials[t]]
        for (let k = 9 * t; k < 9 * t + 9; k++) array[k] = rgb[k % 3]
      }
      if (end > first) this.colours.addUpdateRange(9 * first, 9 * (end - first))
      this.colours.needsUpdate = true
    })
  }

  /** Lists the runs of triangles whose parts are seen. */
  private show(model: ProjectModel): void {
    const { partStarts } = this.display
    this.geometry.clearGroups()
    let first = 0
    let end = 0
    const close = () => {
      if (end > first) this.geometry.addGroup(3 * first, 3 * (end - first), 0)
    }
    model.parts.forEach((part, p) => {
      if (part.role !== 'subject' && part.role !== 'ground') return
      if (partStarts[p] !== end) {
        close()
        first = partStarts[p]
      }
      end = partStarts[p + 1]
    })
    close()
  }

  dispose(): void {
    this.geometry.dispose()
    for (const material of Array.isArray(this.mesh.material) ? this.mesh.material : [this.mesh.material])
      material.dispose()
  }
}
