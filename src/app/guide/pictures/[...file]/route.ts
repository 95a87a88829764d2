import { readFile } from 'node:fs/promises'
import path from 'node:path'
import { documentsFolder, guidePictures, readGuide } from '../../pages'

/** Pictures of the guide, and nothing else. */
export const dynamic = 'force-static'
export const dynamicParams = false

export const generateStaticParams = (): { file: string[] }[] =>
  guidePictures(readGuide()).map((file) => ({ file: file.split('/') }))

export async function GET(
  _request: Request,
  { params }: { readonly params: Promise<{ readonly file: readonly string[] }> },
): Promise<Response> {
  const file = (await params).file.join('/')
  const bytes = await readFile(path.join(documentsFolder(), file))
  const type = file.endsWith('.png') ? 'image/png' : 'image/jpeg'
  return new Response(new Uint8Array(bytes), { headers: { 'content-type': type } })
}
