import { z } from 'zod'
import { blackBody } from '../math/black-body'
import { parseHex, srgbToLinear } from '../math/colour'
import { hashJson } from '../math/stable-hash'
import type { ChannelSpec } from '../picture/channel'
import type { Light, LightColour, Rig } from './light-rig'

/** What a pass keeps of a light: which channels are its own, and what it looked like when they were rendered. */
const linearRgb = z.tuple([z.number(), z.number(), z.number()])
export const renderedLightSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** `light`: irradiance and highlight; `dome`: light from above and from below; `picture`: red, green, blue. */
  planes: z.enum(['light', 'dome', 'picture']),
  /** Linear light, strength included. For a dome, `below` is the colour from below. */
  colour: linearRgb,
  below: linearRgb,
  /** Changes when its channels must be rendered again; empty where that is not known. */
  shape: z.string(),
})
export type RenderedLight = z.infer<typeof renderedLightSchema>

type Linear = [number, number, number]
const linearHex = (hex: string): Linear => {
  const [r, g, b] = parseHex(hex)
  return [srgbToLinear(r), srgbToLinear(g), srgbToLinear(b)]
}
const times = ([r, g, b]: readonly number[], factor: number): Linear => [r * factor, g * factor, b * factor]

/** Linear light of a light's colour. */
export const linearColour = (colour: LightColour): Linear =>
  colour.by === 'colour' ? linearHex(colour.hex) : [...blackBody(colour.kelvin)]

/** Everything about a light that takes rays to change. */
function shapeOf(light: Light): string {
  const { id: _id, name: _name, on: _on, colour: _colour, strength: _strength, ...rest } = light
  if (rest.kind !== 'dome') return hashJson(rest)
  const { below: _below, look, pictureId, rotationDeg, ...common } = rest
  // One colour and a gradient are the same two channels.
  return hashJson(look === 'picture' ? { ...common, pictureId, rotationDeg } : { ...common, tied: 'world' })
}

/** The lights of a rig that are on, as a pass keeps them. */
export const renderedLights = (rig: Rig): RenderedLight[] =>
  rig.lights
    .filter((light) => light.on)
    .map((light): RenderedLight => {
      const colour = linearColour(light.colour)
      const below = light.kind === 'dome' && light.look === 'gradient' ? linearHex(light.below) : colour
      return {
        id: light.id,
        name: light.name,
        planes: light.kind !== 'dome' ? 'light' : light.look === 'picture' ? 'picture' : 'dome',
        colour: times(colour, light.strength),
        below: times(below, light.strength),
        shape: shapeOf(light),
      }
    })

/**
 * Rendered lights with the colours and strengths they have in a rig now; one that is off or gone gives nothing. Where the rig
 * is another one altogether, they stay as they were rendered.
 */
export function relit(rendered: readonly RenderedLight[], rig: Rig): RenderedLight[] {
  const now = new Map(renderedLights(rig).map((light) => [light.id, light]))
  if (isAnotherRig(rendered, rig)) return [...rendered]
  return rendered.map((light) => {
    const current = now.get(light.id)
    if (!current) return { ...light, colour: [0, 0, 0], below: [0, 0, 0] }
    return { ...light, colour: current.colour, below: current.below }
  })
}

/** Whether a rig has lights, and none of those that were rendered. */
const isAnotherRig = (rendered: readonly RenderedLight[], { lights }: Rig): boolean =>
  rendered.length > 0 && lights.length > 0 && !lights.some(({ id }) => rendered.some((old) => old.id === id))

/** What of a rig takes another render, as short phrases; empty when the rendered lights serve. */
export function lightDifferences(rendered: readonly RenderedLight[], rig: Rig): string[] {
  if (isAnotherRig(rendered, rig)) return [`it is lit by ${rig.name} now`]
  const before = new Map(rendered.map((light) => [light.id, light]))
  return renderedLights(rig).flatMap((light) => {
    const old = before.get(light.id)
    if (!old) return [`${light.name} is a new light`]
    return old.shape === '' || old.shape === light.shape ? [] : [`${light.name} moved or changed`]
  })
}

const PLANES = { light: ['', 'h'], dome: ['up', 'down'], picture: ['r', 'g', 'b'] } as const

/**
 * The channels of lights, one after the other: `L0`, `L0h`, `L1up`, `L1down` …
 * @param kind put behind each name.
 */
export const lightChannels = (lights: readonly RenderedLight[], kind = ''): ChannelSpec[] =>
  lights.flatMap((light, i) =>
    PLANES[light.planes].map((suffix) => ({ name: `L${i}${suffix}${kind}`, format: 'half' })),
  )
