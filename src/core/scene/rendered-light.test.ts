import { describe, expect, it } from 'vitest'
import { fromAbove, mean, renderPass, sceneModel, square } from '../testing/shapes'
import type { Light, Rig } from './light-rig'
import { newLight, rigSchema } from './light-rig'
import { fromReadyRig, READY_RIGS } from './ready-rigs'
import { lightChannels, lightDifferences, relit, renderedLights } from './rendered-light'

const rigOf = (...lights: Light[]): Rig => ({ id: 'r', name: 'Rig', lights })
const key = newLight('sun', 'key', { name: 'Key', strength: 2 })
const sky = newLight('dome', 'sky', { name: 'Sky' })

describe('rendered lights', () => {
  it('are those that are on, with channels of their own each', () => {
    const lights = renderedLights(rigOf(key, { ...newLight('spot', 's'), on: false }, sky))
    expect(lights.map((l) => l.id)).toEqual(['key', 'sky'])
    expect(lightChannels(lights).map((c) => c.name)).toEqual(['L0', 'L0h', 'L1up', 'L1down'])
    expect(lights[0].colour).toEqual([2, 2, 2])
  })
  it('take another strength and colour without another render', () => {
    const lights = renderedLights(rigOf(key, sky))
    const now = rigOf(
      { ...key, strength: 0.5, colour: { by: 'kelvin', kelvin: 3000 } },
      { ...sky, below: '#000000' },
    )
    expect(lightDifferences(lights, now)).toEqual([])
    const [sun, dome] = relit(lights, now)
    expect(sun.colour[0]).toBeCloseTo(0.5, 6)
    expect(sun.colour[2]).toBeLessThan(0.3)
    expect(dome.below).toEqual([0, 0, 0])
  })
  it('give nothing where they are off or gone now', () => {
    const lights = renderedLights(rigOf(key, sky))
    expect(relit(lights, rigOf({ ...key, on: false })).map((l) => l.colour)).toEqual([
      [0, 0, 0],
      [0, 0, 0],
    ])
  })
  it('say what takes another render', () => {
    const lights = renderedLights(rigOf(key, sky))
    expect(lightDifferences(lights, rigOf({ ...key, azimuthDeg: 10 }, sky))).toEqual(['Key moved or changed'])
    expect(lightDifferences(lights, rigOf(key, sky, newLight('point', 'p', { name: 'Lamp' })))).toEqual([
      'Lamp is a new light',
    ])
    expect(lightDifferences(lights, rigOf({ ...key, throws: ['a'] }, sky))).toHaveLength(1)
    // A gradient of one colour is two channels all the same.
    expect(lightDifferences(lights, rigOf(key, { ...sky, look: 'one' }))).toEqual([])
  })
  it('do not change each other: one light alone is the same as among others', () => {
    const plane = sceneModel(square(10), 'plane')
    const render = (...lights: Light[]) =>
      renderPass(
        'clay',
        [plane],
        fromAbove(1),
        { width: 16, height: 16 },
        { effort: { samples: 4, rays: 16 }, rig: rigOf(...lights) },
      )
    expect(mean(render(sky, key).channel('L1'))).toBeCloseTo(mean(render(key).channel('L0')), 3)
  })
})

describe('ready rigs', () => {
  it('have names of their own, keep to the schema, and light something', () => {
    expect(new Set(READY_RIGS.map((rig) => rig.name)).size).toBe(READY_RIGS.length)
    let n = 0
    for (const ready of READY_RIGS) {
      const rig = fromReadyRig(ready, () => `id${n++}`)
      expect(rigSchema.parse(rig)).toEqual(rig)
      expect(renderedLights(rig).length).toBeGreaterThan(0)
      expect(ready.summary).toMatch(/\.$/)
    }
    // Ids are new each time: two rigs from one never share a light.
    expect(
      new Set(Array.from({ length: 2 }, () => fromReadyRig(READY_RIGS[0], () => `id${n++}`).lights[0].id))
        .size,
    ).toBe(2)
  })
  it('stay as they were rendered where the rig is another one altogether', () => {
    const lights = renderedLights(rigOf(key, sky))
    const other = { ...rigOf(newLight('sun', 'elsewhere')), name: 'Dusk' }
    expect(relit(lights, other)).toEqual(lights)
    expect(lightDifferences(lights, other)).toEqual(['it is lit by Dusk now'])
    // A rig without any light is not another one: it gives nothing.
    expect(relit(lights, rigOf()).every(({ colour }) => colour.every((c) => c === 0))).toBe(true)
  })
})
