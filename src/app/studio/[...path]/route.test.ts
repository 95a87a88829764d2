import { createServer, type IncomingMessage, type Server } from 'node:http'
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import { GET, POST } from './route'

/** What passes through to the studio's machine, and what does not. */
let server: Server
const heard: { method?: string; url?: string; token?: string; body: string }[] = []
const bodyOf = async (request: IncomingMessage) => {
  let text = ''
  for await (const piece of request) text += String(piece)
  return text
}
beforeAll(async () => {
  server = createServer((request, response) => {
    void bodyOf(request).then((body) => {
      heard.push({ method: request.method, url: request.url, token: request.headers.authorization, body })
      response.writeHead(request.method === 'POST' ? 201 : 200, { 'content-type': 'application/json' })
      response.end('{"id":"x"}')
    })
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
})
afterAll(() => server.close())
afterEach(() => {
  vi.unstubAllEnvs()
  heard.length = 0
})
const setUp = () => {
  const at = server.address()
  vi.stubEnv('RELIEF_STUDIO', `http://127.0.0.1:${typeof at === 'object' && at ? at.port : 0}/`)
  vi.stubEnv('RELIEF_TOKEN', 'secret')
}
const asked = (path: string, options: RequestInit = {}) => {
  const url = new URL(`http://app/studio/${path}`)
  const handle = options.method === 'POST' ? POST : GET
  return handle(new Request(url, options))
}
const ID = 'a'.repeat(32)

describe('the way to the studio', () => {
  it('sends an archive on as a job, with the token that pages never see', async () => {
    setUp()
    const reply = await asked(
      `jobs?job=${encodeURIComponent('{"command":"turn","turn":"Loop","trim":true,"set":["a","b"]}')}`,
      {
        method: 'POST',
        body: Buffer.from([80, 75, 1, 2]),
      },
    )
    expect([reply.status, await reply.json()]).toEqual([201, { id: 'x' }])
    expect(heard).toHaveLength(1)
    const [{ method, url, token, body }] = heard
    expect([method, url, token]).toEqual(['POST', '/jobs', 'Bearer secret'])
    expect(JSON.parse(body)).toEqual({
      command: 'turn',
      turn: 'Loop',
      trim: true,
      set: ['a', 'b'],
      files: [{ name: 'project.zip', base64: Buffer.from([80, 75, 1, 2]).toString('base64') }],
    })
  })
  it('asks for jobs and their files', async () => {
    setUp()
    for (const path of [
      'health',
      `jobs/${ID}`,
      `jobs/${ID}/files/frame_0001.png`,
      `jobs/${ID}/files/Roof%20ridges.png`,
    ])
      expect((await asked(path)).status).toBe(200)
    expect(heard.map(({ url }) => url)).toEqual([
      '/health',
      `/jobs/${ID}`,
      `/jobs/${ID}/files/frame_0001.png`,
      `/jobs/${ID}/files/Roof%20ridges.png`,
    ])
  })
  it('passes nothing else on, and nothing from another page', async () => {
    setUp()
    for (const path of [
      'metrics',
      'jobs',
      'jobs/x',
      `jobs/${ID}/files/..%2Fjob.json`,
      `jobs/${ID}/events`,
      `jobs/${ID}/files/a/b`,
      `jobs/${ID}/files/.job`,
      `jobs/${ID}/files/%E0%A4%A`,
      `jobs/${ID}/files/a%5Cb`,
    ])
      expect([path, (await asked(path)).status]).toEqual([path, 404])
    expect((await asked('health', { headers: { 'sec-fetch-site': 'cross-site' } })).status).toBe(403)
    for (const job of ['', '{', '[]', '{"files":[]}', '{"a":{"b":1}}', 'null'])
      expect((await asked(`jobs?job=${encodeURIComponent(job)}`, { method: 'POST', body: 'x' })).status).toBe(
        400,
      )
    const large = { method: 'POST', body: 'x', headers: { 'content-length': String(2 ** 40) } }
    expect((await asked('jobs?command=turn', large)).status).toBe(413)
    expect(heard).toEqual([])
  })
  it('says where none is set up, or it does not answer', async () => {
    expect(await (await asked('health')).json()).toEqual({ status: 'none' })
    expect(await (await asked(`jobs/${ID}`)).json()).toEqual({
      error: 'no studio is set up: see docs/FARM.md',
    })
    vi.stubEnv('RELIEF_STUDIO', 'studio:4700')
    expect((await asked('health')).status).toBe(500)
    vi.stubEnv('RELIEF_STUDIO', 'http://127.0.0.1:9')
    expect([(await asked('health')).status]).toEqual([502])
  })
})
