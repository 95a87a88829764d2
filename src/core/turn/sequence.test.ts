import { describe, expect, it } from 'vitest'
import {
  foundSequences,
  isPremultiplied,
  missingInWords,
  sequencePicture,
  sequenceTimeSchema,
  type SequenceTime,
} from './sequence'

const time = (rest: Partial<SequenceTime> = {}): SequenceTime => ({
  sequenceId: 's',
  rate: null,
  from: 0,
  to: 5,
  reverse: false,
  after: 'hold',
  begins: 0,
  gaps: 'before',
  ...rest,
})
const five = ['a', 'b', 'c', 'd', 'e']
const seen = (own: SequenceTime, frames: number, pictures: readonly (string | null)[] = five, rate = 24) =>
  Array.from({ length: frames }, (_, frame) => sequencePicture(own, pictures, frame, rate) ?? '-').join('')

describe('the picture of a sequence in a frame', () => {
  it('is one a frame, and then what comes after', () => {
    expect(seen(time(), 8)).toBe('abcdeeee')
    expect(seen(time({ after: 'nothing' }), 8)).toBe('abcde---')
    expect(seen(time({ after: 'again' }), 12)).toBe('abcdeabcdeab')
    expect(seen(time({ after: 'back' }), 12)).toBe('abcdedcbabcd')
  })
  it('begins where it is told to, before the first frame too', () => {
    expect(seen(time({ begins: 3, after: 'nothing' }), 9)).toBe('---abcde-')
    expect(seen(time({ begins: -2 }), 4)).toBe('cdee')
  })
  it('is of a part, and backwards', () => {
    expect(seen(time({ from: 1, to: 4 }), 4)).toBe('bcdd')
    expect(seen(time({ from: 1, to: 4, reverse: true, after: 'again' }), 6)).toBe('dcbdcb')
  })
  it('keeps its own time, whatever the rate of the turntable', () => {
    // 12 a second in 24: each twice; 48 in 24: every other; 10 in 30: the third frame is exactly the next.
    expect(seen(time({ rate: 12 }), 10)).toBe('aabbccddee')
    expect(seen(time({ rate: 48, after: 'nothing' }), 4)).toBe('ace-')
    expect(seen(time({ rate: 10 }), 9, five, 30)).toBe('aaabbbccc')
    // After so many seconds it is where its rate says.
    for (const [own, rate] of [
      [23.976, 30],
      [25, 24],
      [29.97, 60],
    ])
      for (let frame = 0; frame < 100; frame++) {
        const many = Array.from({ length: 400 }, (_, i) => String(i))
        const at = Number(sequencePicture(time({ rate: own, to: 400 }), many, frame, rate))
        expect(at).toBe(Math.floor((frame * own) / rate + 1e-9))
      }
  })
  it('bridges what is missing', () => {
    const gap = ['a', null, null, null, 'e']
    expect(seen(time(), 5, gap)).toBe('aaaae')
    expect(seen(time({ gaps: 'nearest' }), 5, gap)).toBe('aaaee')
    expect(seen(time({ gaps: 'nothing' }), 5, gap)).toBe('a---e')
    expect(seen(time(), 3, [null, 'b', 'c', 'd', 'e'])).toBe('bbc')
    expect(seen(time(), 2, [null, null])).toBe('--')
  })
  it('is refused where it ends before it begins', () => {
    expect(sequenceTimeSchema.safeParse(time()).success).toBe(true)
    expect(sequenceTimeSchema.safeParse(time({ from: 5, to: 5 })).success).toBe(false)
  })
})

describe('sequences among files', () => {
  it('are told by the last number in their names, with what is missing', () => {
    const [found, other] = foundSequences([
      'fog_v2_0011.png',
      'fog_v2_0009.png',
      'notes.txt',
      'fog_v2_0012.png',
      'bell.0001.exr',
    ])
    expect(found).toEqual({
      stem: 'fog_v2_#.png',
      first: 9,
      last: 12,
      files: ['fog_v2_0009.png', null, 'fog_v2_0011.png', 'fog_v2_0012.png'],
    })
    expect(other.stem).toBe('bell.#.exr')
    expect(missingInWords(found.files, found.first)).toBe('10')
    expect(missingInWords(['a', null, null, 'd', null], 1)).toBe('2–3, 5')
    expect(missingInWords(['a'], 7)).toBe('')
  })
  it('are put in order by number, not by name', () => {
    const [found] = foundSequences(['f10.png', 'f9.png', 'f11.png'])
    expect(found.files).toEqual(['f9.png', 'f10.png', 'f11.png'])
  })
  it('are none without numbers, nor where numbers lie too far apart to be counted', () => {
    expect(foundSequences(['bell.png', 'fog.png'])).toEqual([])
    expect(foundSequences(['f1.png', 'f99999999.png'])).toEqual([])
  })
})

describe('premultiplied alpha', () => {
  const pixel = (r: number, g: number, b: number, a: number) => [r, g, b, a]
  it('is told by colours that are never lighter than it', () => {
    expect(isPremultiplied([...pixel(0.4, 0.1, 0, 0.5), ...pixel(1, 1, 1, 1)])).toBe(true)
    expect(isPremultiplied([...pixel(0.4, 0.1, 0, 0.5), ...pixel(0.9, 0, 0, 0.5)])).toBe(false)
  })
  it('is told by nothing where all is solid or clear, but for colours beneath what is clear', () => {
    expect(isPremultiplied([...pixel(0.4, 0.1, 0, 1), ...pixel(0, 0, 0, 0)])).toBe(null)
    expect(isPremultiplied([...pixel(0.4, 0.1, 0, 1), ...pixel(1, 0, 0, 0)])).toBe(false)
  })
})
