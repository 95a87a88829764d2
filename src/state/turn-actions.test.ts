import { produce } from 'immer'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { revealSchema } from '@/core/turn/turn-schema'
import { MOMENTS, setMoment } from './turn-actions'

const LAST = 120
const moments = fc
  .array(fc.integer({ min: 0, max: LAST }), { minLength: 4, maxLength: 4 })
  .map((list) => [...list].sort((a, b) => a - b))

it('keeps the moments of a reveal in order and within the turntable, whichever is moved where', () => {
  fc.assert(
    fc.property(
      moments,
      fc.boolean(),
      fc.constantFrom(...MOMENTS),
      fc.integer({ min: -50, max: 200 }),
      ([from, whole, goes, gone], stays, moment, to) => {
        const reveal = revealSchema.parse({
          id: 'r',
          layerId: 'a',
          kind: 'fade',
          from,
          whole,
          goes: stays ? null : goes,
          gone: stays ? null : gone,
          ease: 'even',
          angleDeg: 0,
          softness: 0,
          centre: [0, 0],
          parts: [],
        })
        const next = produce(reveal, (draft) => setMoment(draft, moment, to, LAST))
        expect(revealSchema.safeParse(next).success).toBe(true)
        const moved = next[moment]
        if (moved !== null) expect(moved).toBe(Math.min(LAST, Math.max(0, to)))
        expect(next.goes === null).toBe(stays)
      },
    ),
  )
})
