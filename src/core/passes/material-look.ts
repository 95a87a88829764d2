import { srgbToLinear } from '../math/colour'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { SceneTexture } from '../scene/scene-texture'

/** Display bytes to linear light. */
const LINEAR = Float64Array.from({ length: 256 }, (_, i) => srgbToLinear(i / 255))

/** A material where a ray met it. Reused: `load` overwrites every field. */
export class MaterialLook {
  /** Of a material that does not say. */
  static readonly ROUGHNESS = 0.6

  /** Scene material. */
  material = 0
  /** Linear base colour, texture included. */
  r = 0
  g = 0
  b = 0
  /** What the texture makes of the plain base colour: linear factors, 1 where there is none. */
  textureR = 1
  textureG = 1
  textureB = 1
  roughness = MaterialLook.ROUGHNESS
  highlight = 0
  /** 1 is solid. */
  opacity = 1
  /** Linear light it gives off. */
  glowR = 0
  glowG = 0
  glowB = 0

  /** Linear base colours and glow, 3 numbers a material. */
  private readonly colours: Float64Array
  private readonly glows: Float64Array
  private readonly textures: readonly (SceneTexture | null)[]
  private readonly texel = new Float64Array(3)

  constructor(private readonly scene: SceneGeometry) {
    const { materials } = scene
    const linear = (values: readonly number[]) => values.map((v) => srgbToLinear(Math.min(1, Math.max(0, v))))
    this.colours = Float64Array.from(materials.flatMap((m) => linear(m.baseColour)))
    this.glows = Float64Array.from(materials.flatMap((m) => linear(m.emission ?? [0, 0, 0])))
    this.textures = materials.map(({ texture = null }) => (texture === null ? null : scene.textures[texture]))
  }

  /**
   * @param triangle of the scene.
   * @param u,v weights of its corners 1 and 2.
   */
  load(triangle: number, u: number, v: number): void {
    const { scene } = this
    const m = scene.triangleMaterials[triangle]
    const {
      roughness = MaterialLook.ROUGHNESS,
      highlight = 0,
      opacity = 1,
      textureBrightness = 1,
    } = scene.materials[m]
    this.material = m
    this.roughness = roughness
    this.highlight = highlight
    this.opacity = opacity
    this.r = this.colours[3 * m]
    this.g = this.colours[3 * m + 1]
    this.b = this.colours[3 * m + 2]
    this.glowR = this.glows[3 * m]
    this.glowG = this.glows[3 * m + 1]
    this.glowB = this.glows[3 * m + 2]
    this.textureR = this.textureG = this.textureB = 1
    const texture = this.textures[m]
    const uvs = scene.triangleUvs
    if (!texture || !uvs) return
    const i = 6 * triangle
    const w = 1 - u - v
    lookUp(
      texture,
      w * uvs[i] + u * uvs[i + 2] + v * uvs[i + 4],
      w * uvs[i + 1] + u * uvs[i + 3] + v * uvs[i + 5],
      this.texel,
    )
    this.textureR = this.texel[0] * textureBrightness
    this.textureG = this.texel[1] * textureBrightness
    this.textureB = this.texel[2] * textureBrightness
    this.r *= this.textureR
    this.g *= this.textureG
    this.b *= this.textureB
  }
}

/** Linear light of a repeated texture between four pixels. */
function lookUp({ width, height, rgba }: SceneTexture, u: number, v: number, out: Float64Array): void {
  const x = (u - Math.floor(u)) * width - 0.5
  const y = (v - Math.floor(v)) * height - 0.5
  const xf = Math.floor(x)
  const yf = Math.floor(y)
  const fx = x - xf
  const fy = y - yf
  const x0 = xf < 0 ? width - 1 : xf
  const y0 = yf < 0 ? height - 1 : yf
  const x1 = x0 + 1 === width ? 0 : x0 + 1
  const y1 = y0 + 1 === height ? 0 : y0 + 1
  const a = 4 * (y0 * width + x0)
  const b = 4 * (y0 * width + x1)
  const c = 4 * (y1 * width + x0)
  const d = 4 * (y1 * width + x1)
  for (let k = 0; k < 3; k++)
    out[k] =
      (LINEAR[rgba[a + k]] * (1 - fx) + LINEAR[rgba[b + k]] * fx) * (1 - fy) +
      (LINEAR[rgba[c + k]] * (1 - fx) + LINEAR[rgba[d + k]] * fx) * fy
}
