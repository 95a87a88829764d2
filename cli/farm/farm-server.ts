import { createHash, timingSafeEqual } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import path from 'node:path'
import { pipeline } from 'node:stream/promises'
import { extension } from '@/core/formats/file-bundle'
import { BadRequest, jobFrom, type Job } from './job-request'
import type { JobKeeper } from './job-keeper'

/** What a server lets in. */
export interface ServerLimits {
  /** Bytes of one request. */
  readonly bodyBytes: number
  /** Jobs that wait or are being done. */
  readonly openJobs: number
}

/** Milliseconds that a request may take to arrive. */
const ARRIVAL_MS = 10 * 60_000
/** Seconds after which one who was sent away may ask again. */
const LATER_SECONDS = 10
/** How often who listens to a job is told of it. Milliseconds. */
const TELL_MS = 500

const MEDIA: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  gif: 'image/gif',
  apng: 'image/apng',
  webp: 'image/webp',
  svg: 'image/svg+xml',
  pdf: 'application/pdf',
  json: 'application/json',
  zip: 'application/zip',
  mp4: 'video/mp4',
  webm: 'video/webm',
}

class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly headers: Readonly<Record<string, string>> = {},
  ) {
    super(message)
  }
}

/** Answers requests for jobs: all but how the server is doing takes the token. */
export function farmServer(keeper: JobKeeper, token: string, limits: ServerLimits): Server {
  const server = createServer({ requestTimeout: ARRIVAL_MS }, (request, response) => {
    answer(keeper, token, limits, request, response).catch((error: unknown) => refuse(response, error))
  })
  return server
}

async function answer(
  keeper: JobKeeper,
  token: string,
  limits: ServerLimits,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const steps = stepsOf(request.url ?? '/')
  const method = request.method ?? 'GET'
  const [first, id, more, ...names] = steps
  if (steps.length === 1 && first === 'health') {
    only(method, 'GET')
    const health = await keeper.health()
    return send(response, health.status === 'ok' ? 200 : 503, health)
  }
  if (steps.length === 1 && first === 'metrics') {
    only(method, 'GET')
    response.writeHead(200, { ...PLAIN, 'content-type': 'text/plain; version=0.0.4; charset=utf-8' })
    response.end(await keeper.metrics())
    return
  }
  checkToken(request, token)
  if (first !== 'jobs') throw new Refused(404, 'there is nothing here')
  if (id === undefined) {
    only(method, 'POST')
    return take(keeper, limits, request, response)
  }
  const job = await keeper.store.job(id)
  if (!job) throw new Refused(404, `there is no job ${id}`)
  if (more === undefined) {
    only(method, 'GET', 'DELETE')
    if (method === 'GET') return send(response, 200, await told(keeper, job))
    await keeper.remove(id)
    response.writeHead(204, PLAIN).end()
    return
  }
  only(method, 'GET')
  if (more === 'events' && names.length === 0) return listen(keeper, job, response)
  if (more === 'files' && names.length > 0) return sendFile(keeper, job, names.join('/'), response)
  throw new Refused(404, 'there is nothing here')
}

/** Steps of an address. @throws {Refused} where it is none. */
function stepsOf(address: string): string[] {
  try {
    const { pathname } = new URL(address, 'http://server')
    return pathname.split('/').slice(1).map(decodeURIComponent)
  } catch {
    throw new Refused(400, 'that is no address')
  }
}

function only(method: string, ...allowed: readonly string[]): void {
  if (!allowed.includes(method))
    throw new Refused(405, `takes ${allowed.join(' or ')}`, { allow: allowed.join(', ') })
}

/** Both are hashed: neither how long nor how like the token is can be told from how long it takes. */
function checkToken({ headers }: IncomingMessage, token: string): void {
  const given = /^Bearer (.+)$/i.exec(headers.authorization ?? '')?.[1] ?? ''
  const hash = (text: string) => createHash('sha256').update(text).digest()
  if (!timingSafeEqual(hash(given), hash(token)))
    throw new Refused(401, 'the token is missing or another', { 'www-authenticate': 'Bearer' })
}

async function take(
  keeper: JobKeeper,
  limits: ServerLimits,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const media = (request.headers['content-type'] ?? '').split(';')[0].trim().toLowerCase()
  if (media !== 'application/json') throw new Refused(415, 'a job is sent as application/json')
  if (keeper.openJobs >= limits.openJobs)
    throw new Refused(429, `${limits.openJobs} jobs wait already`, { 'retry-after': String(LATER_SECONDS) })
  const asked = jobFrom(await bodyOf(request, limits.bodyBytes), keeper.shards, Date.now())
  const isNew = await keeper.add(asked)
  send(response, isNew ? 201 : 200, { id: asked.job.id }, { location: `/jobs/${asked.job.id}` })
}

/** @throws {Refused} where it is too large; {BadRequest} where it is no JSON. */
async function bodyOf(request: IncomingMessage, most: number): Promise<unknown> {
  const tooLarge = () =>
    new Refused(413, `a request has ${Math.floor(most / 2 ** 20)} MB at the most`, { connection: 'close' })
  if (Number(request.headers['content-length'] ?? 0) > most) throw tooLarge()
  const pieces: Buffer[] = []
  let bytes = 0
  for await (const piece of request as AsyncIterable<Buffer>) {
    bytes += piece.length
    if (bytes > most) throw tooLarge()
    pieces.push(piece)
  }
  try {
    return JSON.parse(Buffer.concat(pieces).toString('utf8'))
  } catch {
    throw new BadRequest('body', 'is no JSON')
  }
}

/** A job as who asked is told of it. */
async function told(keeper: JobKeeper, job: Job) {
  const { state, progress, error, files, begun } = await keeper.store.state(job)
  await keeper.store.touch(job.id)
  const seconds = begun === null ? null : (Date.now() - begun) / 1000
  return {
    id: job.id,
    state,
    progress: Math.round(progress * 1000) / 1000,
    secondsLeft:
      state === 'running' && seconds !== null && progress > 0.02
        ? Math.round((seconds * (1 - progress)) / progress)
        : null,
    ...(error !== null && { error }),
    files: files.map(({ name, bytes }) => ({
      name,
      url: `/jobs/${job.id}/files/${name.split('/').map(encodeURIComponent).join('/')}`,
      bytes,
    })),
  }
}

/** Tells of a job whenever something about it changes, until it is over (server-sent events, HTML Living Standard 9.2). */
async function listen(keeper: JobKeeper, { id }: Job, response: ServerResponse): Promise<void> {
  response.writeHead(200, { ...PLAIN, 'content-type': 'text/event-stream' })
  let before = ''
  while (!response.destroyed) {
    const job = await keeper.store.job(id)
    const now = job ? await told(keeper, job) : { id, state: 'gone' }
    const text = JSON.stringify(now)
    if (text !== before) response.write(`data: ${text}\n\n`)
    before = text
    if (!['waiting', 'running'].includes(now.state)) break
    await new Promise((resolve) => setTimeout(resolve, TELL_MS))
  }
  response.end()
}

async function sendFile(
  keeper: JobKeeper,
  { id }: Job,
  name: string,
  response: ServerResponse,
): Promise<void> {
  const found = await keeper.store.result(id, name)
  if (!found) throw new Refused(404, `the job has no file ${name}`)
  response.writeHead(200, {
    ...PLAIN,
    'content-type': MEDIA[extension(name)] ?? 'application/octet-stream',
    'content-length': found.bytes,
    'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(path.posix.basename(name))}`,
  })
  await pipeline(createReadStream(found.file), response)
}

const PLAIN = {
  'x-content-type-options': 'nosniff',
  'cache-control': 'no-store',
  'content-security-policy': "default-src 'none'; sandbox",
} as const

function send(
  response: ServerResponse,
  status: number,
  body: unknown,
  headers: Readonly<Record<string, string>> = {},
): void {
  response.writeHead(status, { ...PLAIN, 'content-type': 'application/json; charset=utf-8', ...headers })
  response.end(JSON.stringify(body) + '\n')
}

function refuse(response: ServerResponse, error: unknown): void {
  if (response.headersSent || response.destroyed) {
    response.destroy()
    return
  }
  if (error instanceof Refused) send(response, error.status, { error: error.message }, error.headers)
  else if (error instanceof BadRequest) send(response, 400, { error: error.message, field: error.field })
  else if (error instanceof Error && 'code' in error && error.code === 'ENOSPC')
    send(response, 507, { error: 'there is no room left' })
  else {
    process.stderr.write(`relief serve: ${error instanceof Error ? error.message : String(error)}\n`)
    send(response, 500, { error: 'the server failed; its log says why' })
  }
}
