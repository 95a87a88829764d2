import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ParamValue, ParamValues } from '../params'
import { seededRandom } from '../math/sampling'
import { anyValue } from '../testing/any-params'
import { paramControls, paramDefaults, type NamedControl } from '../params'
import { ball, cube, fromFront, renderPass, sceneModel } from '../testing/shapes'
import { premultiplied } from '../picture/rgba-picture'
import { passPicture } from './pass-picture'
import type { PassResult } from './pass-result'
import { PASS_KINDS, passKind } from './registry'

/** No ground, no picture, no glass, no glow. */
const BARE = { hasGround: false, hasTextures: false, hasGlass: false, hasGlow: false }
const FULL = { hasGround: true, hasTextures: true, hasGlass: true, hasGlow: true }
const SCENE = [sceneModel(cube(), 'block'), sceneModel(ball(1.3, 12), 'ball')]
const FRAME = { width: 40, height: 30 }

/** What of a pass is seen: colours of what is clear do not count. */
const seen = (result: PassResult, look: ParamValues) => premultiplied(passPicture(result, look))

const anyOf = (control: NamedControl): fc.Arbitrary<ParamValue> =>
  control.control === 'number' && control.step >= 1
    ? fc.integer({ min: control.min, max: control.max })
    : fc.integer().map((seed) => anyValue(control, seededRandom(seed)))
const valuesOf = (controls: readonly NamedControl[]): fc.Arbitrary<ParamValues> =>
  fc.record(Object.fromEntries(controls.map((control) => [control.name, anyOf(control)])))

describe('parameters that are said to sleep', () => {
  it.each(PASS_KINDS)('change nothing of the picture: %s', (name) => {
    const kind = passKind(name)
    const controls = paramControls(kind.lookSchema)
    const { result } = renderPass(name, SCENE, fromFront(4), FRAME)
    fc.assert(
      fc.property(valuesOf(controls), valuesOf(controls), (look, other) => {
        const idle = kind.idleLook(look, { rendered: result.params, facts: result.facts, scene: BARE })
        const names = Object.keys(idle)
        for (const own of names) expect(controls.map((c) => c.name)).toContain(own)
        if (names.length === 0) return
        const changed = { ...look, ...Object.fromEntries(names.map((own) => [own, other[own]])) }
        expect(seen(result, changed)).toEqual(seen(result, look))
      }),
      { numRuns: 25, seed: 12 },
    )
  })
  it.each(PASS_KINDS)('are named, and wake where the scene has everything: %s', (name) => {
    const kind = passKind(name)
    const params = paramDefaults(kind.renderSchema)
    const idle = kind.idleRender(params, BARE)
    for (const own of Object.keys(idle)) expect(Object.keys(params)).toContain(own)
    for (const [own, words] of Object.entries(kind.idleRender(params, FULL)))
      expect([own, words]).not.toEqual([own, expect.stringMatching(/No part|No material/)])
  })
  it('say what would wake them', () => {
    const look = (name: 'clay' | 'lit' | 'id' | 'stepped') => {
      const kind = passKind(name)
      const own = paramDefaults(kind.lookSchema)
      return kind.idleLook(own, { rendered: {}, facts: {}, scene: BARE })
    }
    expect(look('clay')).toEqual({
      bounce: 'Render it with bounced light',
      bleedColour: 'Warm bleed is at 0',
    })
    expect(look('lit')).toMatchObject({ glow: 'No material glows of itself' })
    expect(look('id')).toEqual({ set: 'Colours are not three in one' })
    expect(Object.keys(look('stepped'))).toEqual(['groundLight', 'groundShadow', 'groundClear'])
  })
})
