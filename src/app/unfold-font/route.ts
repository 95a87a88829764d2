import decompressWoff2 from 'woff2-encoder/decompress'
import { MOST_FONT_BYTES } from '@/core/formats/woff'

/** A WOFF2 file as the font that was folded into it: for fonts that are brought. */
export async function POST(request: Request): Promise<Response> {
  const announced = Number(request.headers.get('content-length') ?? 0)
  if (announced > MOST_FONT_BYTES) return new Response('it is larger than a font may be', { status: 413 })
  const bytes = new Uint8Array(await request.arrayBuffer())
  if (bytes.length > MOST_FONT_BYTES) return new Response('it is larger than a font may be', { status: 413 })
  try {
    const font = new Uint8Array(await decompressWoff2(bytes))
    return new Response(font, { headers: { 'content-type': 'font/sfnt' } })
  } catch {
    return new Response('it is damaged', { status: 422 })
  }
}
