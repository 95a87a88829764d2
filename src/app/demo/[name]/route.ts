import { readFile } from 'node:fs/promises'
import path from 'node:path'
import { z } from 'zod'

/** Serves the demo files of this installation, and nothing else. */
const demoFile = z.enum([
  'low-water.zip',
  'brass-gauge.zip',
  'tide-kiosk.obj',
  'tide-kiosk.mtl',
  'tide-kiosk.glb',
  'open-water.obj',
  'open-water.mtl',
])

export async function GET(
  _request: Request,
  { params }: { params: Promise<{ name: string }> },
): Promise<Response> {
  const name = demoFile.safeParse((await params).name)
  if (!name.success) return new Response('no such demo file', { status: 404 })
  try {
    const bytes = await readFile(path.join(process.cwd(), 'demo', name.data))
    return new Response(new Uint8Array(bytes), { headers: { 'Content-Type': 'application/octet-stream' } })
  } catch {
    return new Response(`${name.data} is missing: run "npm run demo"`, { status: 404 })
  }
}
