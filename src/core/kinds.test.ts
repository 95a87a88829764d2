import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { KindRegistry } from './kinds'

const pebble = {
  kind: 'pebble',
  version: 3,
  label: 'Pebble',
  summary: 'A small stone.',
  shape: { weight: z.number().min(0) },
  // Version 1 said grams, version 2 kilograms under another name.
  upgrade: (old: Readonly<Record<string, unknown>>) =>
    'grams' in old ? { kilograms: Number(old.grams) / 1000 } : { weight: old.kilograms },
} as const
const gull = { kind: 'gull', version: 1, label: 'Gull', summary: 'A bird.', shape: {} } as const
const things = new KindRegistry('thing', [pebble, gull] as const)

describe('kinds of a document', () => {
  it('are read with their fields and no others', () => {
    expect(things.read({ kind: 'pebble', version: 3, weight: 2, colour: 'grey' })).toEqual({
      kind: 'pebble',
      version: 3,
      weight: 2,
    })
    expect(things.schema.parse({ kind: 'gull', version: 1 })).toEqual({ kind: 'gull', version: 1 })
  })
  it('are brought up to date version after version; without one it is the first', () => {
    expect(things.read({ kind: 'pebble', version: 2, kilograms: 5 })).toMatchObject({ weight: 5 })
    expect(things.read({ kind: 'pebble', version: 1, grams: 500 })).toMatchObject({ version: 3, weight: 0.5 })
    expect(things.read({ kind: 'pebble', grams: 500 })).toMatchObject({ version: 3, weight: 0.5 })
  })
  it.each([
    [{ kind: 'hologram', depth: 3 }, /does not know the thing "hologram"/],
    [{ kind: 'pebble', version: 4, weight: 1 }, /newer version/],
    [{ kind: 'pebble', version: 3, weight: -1 }, /Pebble\.weight/],
    [{ depth: 3 }, /is no thing/],
    ['stone', /is no thing/],
  ])('that cannot be read (%j) are kept as they are, with the reason', (stored, why) => {
    const read = things.read(stored)
    expect(read).toMatchObject({ kind: 'unreadable' })
    if (read.kind !== 'unreadable') return
    expect(read.why).toMatch(why)
    expect(read.was).toEqual(typeof stored === 'string' ? { value: stored } : stored)
    // Stored and loaded again, nothing is lost, and nothing is wrapped twice.
    expect(things.read(JSON.parse(JSON.stringify(read)))).toEqual(read)
  })
  it('that could not be read are read once their kind is known', () => {
    const before = new KindRegistry('thing', [gull] as const).read({ kind: 'pebble', version: 3, weight: 2 })
    expect(things.read(before)).toEqual({ kind: 'pebble', version: 3, weight: 2 })
  })
  it('refuse a kind without a way up, and two of one name', () => {
    expect(() => new KindRegistry('thing', [{ ...gull, version: 2 }])).toThrow(/upgrades from none/)
    expect(() => new KindRegistry('thing', [gull, gull])).toThrow(/one name/)
  })
})
