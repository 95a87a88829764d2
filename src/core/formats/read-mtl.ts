import type { ModelMaterial } from '../geometry/polygon-mesh'
import { PLAIN_MATERIAL } from '../geometry/polygon-mesh'
import { linearToSrgb } from '../math/colour'

/** A material of an MTL library, its picture still by name. */
export interface MtlMaterial extends Omit<ModelMaterial, 'texture'> {
  readonly texture: string | null
}

/** How many numbers follow each option of a `map_` line. */
const MAP_OPTIONS: Readonly<Record<string, number>> = {
  '-blendu': 1,
  '-blendv': 1,
  '-boost': 1,
  '-bm': 1,
  '-cc': 1,
  '-clamp': 1,
  '-imfchan': 1,
  '-mm': 2,
  '-o': 3,
  '-s': 3,
  '-t': 3,
  '-texres': 1,
  '-type': 1,
}

/** The file of a `map_` line: what is left when options and their values are gone. Names may hold spaces. */
export function mapFile(rest: string): string {
  let text = rest.trim()
  for (;;) {
    const match = /^(-[a-z]+)\s+/i.exec(text)
    const most = match ? MAP_OPTIONS[match[1].toLowerCase()] : undefined
    if (!match || most === undefined) return text.replace(/^"(.*)"$/, '$1')
    text = text.slice(match[0].length)
    for (let i = 0; i < most; i++) {
      const value = /^(on|off|[-+]?[0-9.]+(?:e[-+]?[0-9]+)?|[rgbmlz](?=\s)|sphere|cube_\w+)\s+/i.exec(text)
      if (!value) break
      text = text.slice(value[0].length)
    }
  }
}

const clamped = (v: number): number => Math.min(1, Math.max(0, v))

/**
 * Reads a Wavefront MTL library. Its colours carry no encoding; they are taken as linear light, as the exporters of the
 * field write them. `Ns` becomes a roughness by the width of its lobe (√(2/(Ns + 2)), Walter et al. 2007).
 */
export function readMtl(text: string): Map<string, MtlMaterial> {
  const materials = new Map<string, MtlMaterial>()
  let name: string | null = null
  const set = (patch: Partial<MtlMaterial>) => {
    if (name === null) return
    const before = materials.get(name) ?? { ...PLAIN_MATERIAL, name, texture: null }
    materials.set(name, { ...before, ...patch })
  }
  for (const raw of text.replace(/\\[ \t]*(\r\n|\r|\n)/g, ' ').split(/\r\n|\r|\n/)) {
    const line = raw.trim()
    const [keyword] = line.split(/\s+/, 1)
    const rest = line.slice(keyword.length).trim()
    const numbers = rest.split(/\s+/).map(Number)
    const sound = rest !== '' && numbers.every(Number.isFinite)
    const colour = (): [number, number, number] => {
      const [r, g = r, b = r] = numbers
      return [linearToSrgb(clamped(r)), linearToSrgb(clamped(g)), linearToSrgb(clamped(b))]
    }
    switch (keyword) {
      case 'newmtl':
        name = rest || 'unnamed'
        materials.set(name, { ...PLAIN_MATERIAL, name, texture: null })
        break
      case 'Kd':
        if (sound) set({ baseColour: colour() })
        break
      case 'Ks':
        if (sound) set({ highlight: clamped(Math.max(...numbers.slice(0, 3))) })
        break
      case 'Ke':
        if (sound) set({ emission: colour() })
        break
      case 'Ns':
        if (sound) set({ roughness: Math.sqrt(2 / (Math.max(0, numbers[0]) + 2)) })
        break
      case 'Pr':
        if (sound) set({ roughness: clamped(numbers[0]) })
        break
      case 'd':
        if (sound) set({ opacity: clamped(numbers[0]) })
        break
      case 'Tr':
        if (sound) set({ opacity: 1 - clamped(numbers[0]) })
        break
      case 'map_Kd':
        if (rest) set({ texture: mapFile(rest) })
        break
      case 'map_d':
        // A cut-out: its alpha is taken from the base colour's picture, which is the same file in practice.
        set({ alpha: 'cut' })
        break
      default:
        break
    }
  }
  return materials
}
