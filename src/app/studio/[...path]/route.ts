import { askedOrder, isOwnPage, isStudioPath, MOST_SENT, studioPlace } from '@/data/studio-door'

/**
 * Passes what the application asks of the studio's machine on to it, with the token that only this server knows. A job comes as the
 * archive itself, with what is to be made of it in the address.
 */
/** What comes after /studio in an address; null where it cannot be read. */
function stepsOf(address: string): string[] | null {
  try {
    return new URL(address).pathname.split('/').slice(2).map(decodeURIComponent)
  } catch {
    return null
  }
}

const refuse = (status: number, error: string): Response => Response.json({ error }, { status })

async function pass(request: Request): Promise<Response> {
  const path = stepsOf(request.url)
  if (!isOwnPage(request.headers)) return refuse(403, 'that is asked from another page')
  if (!path || !isStudioPath(request.method, path)) return refuse(404, 'there is nothing here')
  let place
  try {
    place = studioPlace(process.env)
  } catch (error) {
    return refuse(500, error instanceof Error ? error.message : String(error))
  }
  // That there is none is no fault: it is asked wherever something could be rendered there.
  if (!place)
    return path[0] === 'health'
      ? Response.json({ status: 'none' })
      : refuse(404, 'no studio is set up: see docs/FARM.md')
  const headers: Record<string, string> = { authorization: `Bearer ${place.token}` }
  let body: string | undefined
  if (request.method === 'POST') {
    if (Number(request.headers.get('content-length') ?? 0) > MOST_SENT)
      return refuse(413, 'the project is larger than the studio takes')
    const archive = new Uint8Array(await request.arrayBuffer())
    if (archive.length > MOST_SENT) return refuse(413, 'the project is larger than the studio takes')
    const asked = askedOrder(new URL(request.url).searchParams.get('job'))
    if (!asked) return refuse(400, 'job: says nothing that could be made')
    const files = [{ name: 'project.zip', base64: Buffer.from(archive).toString('base64') }]
    body = JSON.stringify({ ...asked, files })
    headers['content-type'] = 'application/json'
  }
  try {
    const steps = path.map(encodeURIComponent).join('/')
    const reply = await fetch(`${place.address}/${steps}`, { method: request.method, headers, body })
    const type = reply.headers.get('content-type')
    return new Response(reply.status === 204 ? null : reply.body, {
      status: reply.status,
      headers: {
        'cache-control': 'no-store',
        'x-content-type-options': 'nosniff',
        ...(type && { 'content-type': type }),
      },
    })
  } catch {
    return refuse(502, 'the studio does not answer')
  }
}

export { pass as DELETE, pass as GET, pass as POST }
