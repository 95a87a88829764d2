import { describe, expect, it } from 'vitest'
import { srgbToLinear } from '../math/colour'
import { newLight, type Light, type Rig } from '../scene/light-rig'
import { cube, renderPass, sceneModel } from '../testing/shapes'
import { DomePicture } from './dome-picture'
import { passPicture } from './pass-picture'

const rigOf = (...lights: Light[]): Rig => ({ id: 'r', name: 'r', lights })
const sun = () => newLight('sun', 'sun', {})
const SIZE = { width: 32, height: 16 }
/** From the middle of the scene along −Z, level. */
const level = { eye: [0, 0, 8], target: [0, 0, 0], fovDeg: 60, orthoHeight: null } as const
const models = [sceneModel(cube(1), 'a')]

describe('what surrounds', () => {
  it('is a sky that changes from below to above as directions do, behind parts too', () => {
    const { channel } = renderPass('surroundings', models, level, SIZE, {
      rig: rigOf(newLight('dome', 'sky', {})),
    })
    const half = Math.tan(Math.PI / 6)
    for (const [x, y] of [
      [0, 0],
      [16, 8],
      [31, 15],
      [5, 12],
    ]) {
      // The mean over a pixel of the height of unit directions through it is near that through its middle.
      const sx = ((2 * (x + 0.5)) / 32 - 1) * half * 2
      const sy = (1 - (2 * (y + 0.5)) / 16) * half
      const height = sy / Math.hypot(sx, sy, 1)
      expect(channel('S0up')[16 * 2 * y + x]).toBeCloseTo(0.5 + 0.5 * height, 2)
      expect(channel('S0up')[32 * y + x] + channel('S0down')[32 * y + x]).toBeCloseTo(1, 3)
    }
    expect(Math.min(...channel('A'))).toBe(1)
  })
  it('shows a picture where it is, turned as its dome is, and on over its seam', () => {
    // One bright column, straight ahead at −Z: the first and the last column meet there.
    const [width, height] = [64, 32]
    const pixels = new Float32Array(3 * width * height)
    for (let y = 0; y < height; y++)
      for (const x of [0, width - 1]) pixels.fill(4, 3 * (y * width + x), 3 * (y * width + x) + 3)
    const dome = new DomePicture({ width, height, pixels })
    const brightest = (rotationDeg: number) => {
      const rig = rigOf(newLight('dome', 'd', { look: 'picture', pictureId: 'p', rotationDeg }))
      const { channel } = renderPass('surroundings', models, level, SIZE, { rig, dome })
      const row = channel('S0r').slice(32 * 8, 32 * 9)
      return row.indexOf(Math.max(...row))
    }
    expect([15, 16]).toContain(brightest(0))
    // A dome turned by some degrees shows it as far aside.
    const aside = Math.tan((20 * Math.PI) / 180) / (2 * Math.tan(Math.PI / 6))
    expect(Math.abs(Math.abs(brightest(20) - 15.5) - 16 * aside)).toBeLessThan(1.5)
    expect(brightest(20) - 15.5).toBeCloseTo(-(brightest(-20) - 15.5), 0)
  })
  it('is even where its picture is, in the colour and strength the dome has', () => {
    const dome = new DomePicture({ width: 8, height: 4, pixels: new Float32Array(96).fill(0.5) })
    const rig = rigOf(newLight('dome', 'd', { look: 'picture', pictureId: 'p', strength: 0.8 }))
    const { result, channel } = renderPass('surroundings', models, level, SIZE, { rig, dome })
    for (const value of channel('S0g')) expect(value).toBeCloseTo(0.5, 3)
    const { pixels } = passPicture(result, { exposure: 0, saturation: 1 })
    expect(srgbToLinear(pixels[1])).toBeCloseTo((0.4 * result.lights[0].colour[1]) / 0.8, 2)
  })
  it('is nothing where no dome is, or its picture is gone', () => {
    const none = renderPass('surroundings', models, level, SIZE, { rig: rigOf(sun()) })
    expect(Math.max(...none.channel('A'))).toBe(0)
    const gone = renderPass('surroundings', models, level, SIZE, {
      rig: rigOf(newLight('dome', 'd', { look: 'picture', pictureId: 'p' })),
    })
    expect(Math.max(...gone.channel('S0r'))).toBe(0)
  })
  it('does not hang on what stands before it', () => {
    const rig = rigOf(newLight('dome', 'sky', {}), sun())
    const [a, b] = [models, [...models, sceneModel(cube(3), 'b')]].map((own) =>
      renderPass('surroundings', own, level, SIZE, { rig }).channel('S0up'),
    )
    expect(a).toEqual(b)
  })
})
