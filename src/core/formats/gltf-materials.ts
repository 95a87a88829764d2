import type { Document, Material, Texture } from '@gltf-transform/core'
import type { EmissiveStrength, Specular, Transform, Transmission } from '@gltf-transform/extensions'
import type { MeshBuilder } from '../geometry/mesh-builder'
import type { ModelMaterial } from '../geometry/polygon-mesh'
import { PLAIN_MATERIAL } from '../geometry/polygon-mesh'
import { linearToSrgb } from '../math/colour'
import { baseName } from './file-bundle'

/** Which texture coordinates a material's picture takes, and how they are moved (KHR_texture_transform). */
export interface TexCoord {
  readonly set: number
  /** Coordinates as the file has them to ours, which grow upwards. */
  readonly map: (uvs: Float32Array) => Float32Array
}

const encoded = (rgb: readonly number[], by = 1): [number, number, number] => {
  const [r, g, b] = rgb.map((v) => linearToSrgb(Math.min(1, Math.max(0, v * by))))
  return [r, g, b]
}

/** The materials of a document, their pictures and how these are laid on. */
export class GltfMaterials {
  private readonly indices = new Map<Material, number>()
  private readonly textures = new Map<Texture, number>()
  private plain = -1

  constructor(
    document: Document,
    private readonly builder: MeshBuilder,
  ) {
    for (const material of document.getRoot().listMaterials())
      this.indices.set(material, builder.materials.push(this.read(material)) - 1)
  }

  indexOf(material: Material | null): number {
    const known = material && this.indices.get(material)
    if (known !== null && known !== undefined) return known
    if (this.plain < 0) this.plain = this.builder.materials.push(PLAIN_MATERIAL) - 1
    return this.plain
  }

  texCoordOf(material: Material | null): TexCoord {
    const info = material?.getBaseColorTextureInfo()
    const transform = info?.getExtension<Transform>('KHR_texture_transform')
    const [ox, oy] = transform?.getOffset() ?? [0, 0]
    const [sx, sy] = transform?.getScale() ?? [1, 1]
    const turn = transform?.getRotation() ?? 0
    const [c, s] = [Math.cos(turn), Math.sin(turn)]
    return {
      set: transform?.getTexCoord() ?? info?.getTexCoord() ?? 0,
      map(uvs) {
        const out = new Float32Array(uvs.length)
        for (let i = 0; i < uvs.length; i += 2) {
          const [u, v] = [uvs[i] * sx, uvs[i + 1] * sy]
          out[i] = c * u + s * v + ox
          out[i + 1] = 1 - (c * v - s * u + oy)
        }
        return out
      },
    }
  }

  private read(material: Material): ModelMaterial {
    const [r, g, b, a] = material.getBaseColorFactor()
    const mode = material.getAlphaMode()
    const through =
      material.getExtension<Transmission>('KHR_materials_transmission')?.getTransmissionFactor() ?? 0
    const glow =
      material.getExtension<EmissiveStrength>('KHR_materials_emissive_strength')?.getEmissiveStrength() ?? 1
    const shine = material.getExtension<Specular>('KHR_materials_specular')?.getSpecularFactor() ?? 1
    const texture = material.getBaseColorTexture()
    const metal = material.getMetallicFactor()
    return {
      ...PLAIN_MATERIAL,
      name: material.getName() || `material ${this.indices.size + 1}`,
      baseColour: encoded([r, g, b]),
      roughness: Math.min(1, Math.max(0, material.getRoughnessFactor())),
      // A dielectric reflects little head-on, a metal nearly all.
      highlight: Math.min(1, 0.3 * shine + 0.7 * metal),
      opacity: Math.min(1, Math.max(0, (mode === 'BLEND' ? a : 1) * (1 - 0.9 * through))),
      emission: encoded(material.getEmissiveFactor(), glow),
      texture: texture ? this.textureIndex(texture) : null,
      alpha: mode === 'MASK' ? 'cut' : mode === 'BLEND' ? 'blend' : 'opaque',
      alphaCut: Math.min(1, Math.max(0, material.getAlphaCutoff())),
    }
  }

  private textureIndex(texture: Texture): number {
    const known = this.textures.get(texture)
    if (known !== undefined) return known
    const image = texture.getImage()
    const name = baseName(texture.getURI() || texture.getName() || `picture ${this.textures.size + 1}`)
    const bytes = image && image.length > 0 ? new Uint8Array(image) : null
    if (!bytes)
      this.builder.warn(
        'texture-missing',
        null,
        () => `picture ${name} was not given; the plain colour is used`,
        1,
        name,
      )
    const index = this.builder.textures.push({ name, bytes }) - 1
    this.textures.set(texture, index)
    return index
  }
}
