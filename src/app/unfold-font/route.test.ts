// @vitest-environment node
import { compress, decompress } from 'woff2-encoder'
import { describe, expect, it } from 'vitest'
import { POST } from './route'
import { MOST_FONT_BYTES } from '@/core/formats/woff'
import { seededRandom } from '@/core/math/sampling'
import { shippedBytes } from '@/core/testing/fonts'
import { openFont } from '@/core/type/shaper'
import { decodeFont } from '@/engine/decode-font'

const plain = shippedBytes('monoton-latin-400-normal.woff')
const unfold = async (bytes: Uint8Array) => new Uint8Array(await decompress(bytes))
const asked = (body: BodyInit, headers: Record<string, string> = {}) =>
  POST(new Request('http://127.0.0.1/unfold-font', { method: 'POST', body, headers }))

/** Outlines of a few letters, as they are read. */
const outlines = (bytes: Uint8Array) => {
  const font = openFont(bytes).at({})
  return font.shape('Ag5', 0, 3, 'right', {}).map(({ glyph }) => [...font.outline(glyph)])
}

describe('a font in any of its wrappings', () => {
  it('is the same font folded as WOFF2, letter by letter', async () => {
    const folded = new Uint8Array(await compress(plain))
    expect(folded.length).toBeLessThan(plain.length)
    expect(outlines(await decodeFont(folded, 'own.woff2', unfold))).toEqual(outlines(plain))
  })
  it('is refused by name where it is damaged, whatever is damaged of it', async () => {
    const folded = new Uint8Array(await compress(plain))
    const random = seededRandom(4)
    for (let i = 0; i < 12; i++) {
      const spoilt = folded.slice(0, i % 3 === 0 ? Math.floor(random() * folded.length) : undefined)
      for (let k = 0; k < 8; k++)
        spoilt[4 + Math.floor(random() * (spoilt.length - 4))] = Math.floor(random() * 256)
      await decodeFont(spoilt, 'own.woff2', unfold).catch((error: unknown) => {
        expect(String(error)).toContain('own.woff2')
      })
    }
    await expect(decodeFont(new Uint8Array(40), 'x.woff2', unfold)).rejects.toThrow(/x\.woff2.*no TrueType/)
    await expect(decodeFont(new Uint8Array(4), 'x.woff2', unfold)).rejects.toThrow(/too short/)
  })
})

describe('the route that unfolds fonts', () => {
  it('gives the font back', async () => {
    const response = await asked(new Uint8Array(await compress(plain)))
    expect(response.status).toBe(200)
    expect(response.headers.get('content-type')).toBe('font/sfnt')
    expect(outlines(new Uint8Array(await response.arrayBuffer()))).toEqual(outlines(plain))
  })
  it('refuses what is no font, and what is larger than one may be', async () => {
    expect((await asked(new Uint8Array(500))).status).toBe(422)
    expect((await asked(new Uint8Array(0))).status).toBe(422)
    expect((await asked('x', { 'content-length': String(MOST_FONT_BYTES + 1) })).status).toBe(413)
  })
})
