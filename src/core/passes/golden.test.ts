import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { beforeAll, describe, expect, it } from 'vitest'
import { readModel } from '../formats/model-readers'
import { readPng, writePng } from '../formats/png'
import { premultiplied, toStraight8 } from '../picture/rgba-picture'
import { IDENTITY } from '../scene/placement'
import type { SceneModel } from '../scene/scene-geometry'
import { paramDefaults } from '../params'
import { renderPass } from '../testing/shapes'
import { passPicture } from './pass-picture'
import { PASS_KINDS, passKind } from './registry'

/**
 * Every pass of the demo's kiosk over its water, small, beside the picture that was looked at and found good. To accept a
 * change that was meant: RELIEF_GOLDEN=write npx vitest run golden, then look at the pictures.
 */
const FRAME = { width: 120, height: 75 }
const CAMERA = { eye: [-6.3, 2.5, 13.4], target: [-0.75, 1.3, 0.2], fovDeg: 31, orthoHeight: null } as const
const EFFORT = { samples: 8, rays: 4 }
const demo = path.resolve(import.meta.dirname, '../../../demo')
const golden = (kind: string) => path.join(import.meta.dirname, 'golden', `${kind}.png`)

/**
 * Renders are the same to the bit on one machine. On another, sines and powers may differ in their last digit, and a ray
 * that grazes an edge then meets the other side: a few pixels by much, the mean by next to nothing. A changed formula, a
 * lost light or another sampling moves the mean by more than this, or many pixels by a step of 8 bits.
 */
const MEAN_LIMIT = 0.4 / 255
const STEP = 2.5 / 255
const MOST_STEPS = 0.01

let models: SceneModel[]
beforeAll(async () => {
  const load = async (stem: string, role: 'subject' | 'ground'): Promise<SceneModel> => {
    const names = [`${stem}.obj`, `${stem}.mtl`]
    const files = new Map(names.map((name) => [name, new Uint8Array(readFileSync(path.join(demo, name)))]))
    const model = await readModel(files, names[0])
    return {
      mesh: model.mesh,
      transforms: [IDENTITY],
      parts: model.parts.map((part, i) => ({ key: `${stem}/${i}`, name: part.name, role })),
      materials: model.materials.map((m, i) => ({ ...m, key: `${stem}/${i}` })),
    }
  }
  models = [await load('tide-kiosk', 'subject'), await load('open-water', 'ground')]
})

describe('golden pictures of the demo', () => {
  it.each(PASS_KINDS)('%s', (kind) => {
    const { result } = renderPass(kind, models, CAMERA, FRAME, { effort: EFFORT })
    const look = paramDefaults(passKind(kind).lookSchema)
    const bytes = toStraight8(premultiplied(passPicture(result, look)))
    if (process.env.RELIEF_GOLDEN === 'write')
      writeFileSync(golden(kind), writePng(FRAME.width, FRAME.height, bytes))
    expect(existsSync(golden(kind)), `${kind}.png`).toBe(true)
    const kept = readPng(new Uint8Array(readFileSync(golden(kind))), kind)
    let sum = 0
    let steps = 0
    for (let i = 0; i < bytes.length; i++) {
      const difference = Math.abs(bytes[i] / 255 - kept.pixels[i])
      sum += difference
      if (difference > STEP) steps++
    }
    expect(sum / bytes.length).toBeLessThan(MEAN_LIMIT)
    expect(steps / bytes.length).toBeLessThan(MOST_STEPS)
  })
})
