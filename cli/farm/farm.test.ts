import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { spawn, type ChildProcess } from 'node:child_process'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { FarmProcess } from '../testing/farm-process'
import { reliefHere } from '../testing/relief-here'

/** A server that renders for others: what it lets in, and that nothing is lost of what it took in. */

const folder = mkdtempSync(path.join(tmpdir(), 'relief-farm-'))
const at = (...names: string[]) => path.join(folder, ...names)
const TOKEN = 'a word that others cannot guess'
/** Uneven ground of so many squares a side. */
const ground = (count: number): string => {
  const lines = ['o Ground']
  for (let y = 0; y <= count; y++)
    for (let x = 0; x <= count; x++)
      lines.push(`v ${x / 4} ${Math.sin(x * 1.7) * Math.cos(y * 1.3) * 0.3} ${y / 4}`)
  for (let y = 0; y < count; y++)
    for (let x = 0; x < count; x++) {
      const first = y * (count + 1) + x + 1
      lines.push(`f ${first} ${first + 1} ${first + count + 2} ${first + count + 1}`)
    }
  return lines.join('\n') + '\n'
}
const MODEL = ground(24)
writeFileSync(at('ground.obj'), MODEL)

interface Answer {
  readonly status: number
  readonly headers: Headers
  readonly body: Record<string, unknown> & {
    id: string
    state: string
    files: { name: string; url: string }[]
  }
}

/** Asks a server, with its token where none is given. */
const ask = async (
  address: string,
  method: string,
  body?: unknown,
  headers: Record<string, string> = { authorization: `Bearer ${TOKEN}` },
): Promise<Answer> => {
  const text = typeof body === 'string' ? body : body === undefined ? undefined : JSON.stringify(body)
  const reply = await fetch(address, {
    method,
    body: text,
    headers: { ...(text !== undefined && { 'content-type': 'application/json' }), ...headers },
  })
  const said = await reply.text()
  return {
    status: reply.status,
    headers: reply.headers,
    body: said ? (JSON.parse(said) as Answer['body']) : ({} as Answer['body']),
  }
}
const begun = async (...args: string[]) => {
  const own = FarmProcess.begin('serve', '--token', TOKEN, ...args)
  const address = (await own.says(/http:\S+/)).trim()
  return { own, address }
}
const until = async <T>(what: string, look: () => Promise<T | null>): Promise<T> => {
  for (let waited = 0; waited < 120_000; waited += 100) {
    const found = await look().catch(() => null)
    if (found !== null) return found
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  throw new Error(`waited in vain until ${what}`)
}
const over = (address: string, id: string) =>
  until('the job is over', async () => {
    const { body } = await ask(`${address}/jobs/${id}`, 'GET')
    return body.state === 'done' || body.state === 'failed' ? body : null
  })
const filesOf = async (address: string, { files }: Answer['body']) =>
  Object.fromEntries(
    await Promise.all(
      files.map(async ({ name, url }) => {
        const reply = await fetch(address + url, { headers: { authorization: `Bearer ${TOKEN}` } })
        expect(reply.status).toBe(200)
        return [name, Buffer.from(await reply.arrayBuffer()).toString('base64')] as const
      }),
    ),
  )
const alone = (name: string, ...args: string[]) => {
  expect(reliefHere(...args, '--out', at(name)).stderr).toBe('')
  return Object.fromEntries(
    readdirSync(at(name)).map((file) => [file, readFileSync(at(name, file)).toString('base64')]),
  )
}
const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const own = server.address()
      server.close(() => resolve(typeof own === 'object' && own ? own.port : 0))
    })
  })
const job = (more: object = {}) => ({
  command: 'render',
  files: [{ name: 'ground.obj', text: MODEL }],
  passes: ['depth', 'occlusion'],
  size: '280x200',
  samples: 2,
  rays: 8,
  ...more,
})
const JOB_ALONE = [
  'render',
  at('ground.obj'),
  '--passes',
  'depth,occlusion',
  '--size',
  '280x200',
  '--samples',
  '2',
  '--rays',
  '8',
]

afterAll(() => rmSync(folder, { recursive: true, force: true }))

describe('a server', () => {
  let own: FarmProcess
  let address: string
  beforeAll(async () => {
    ;({ own, address } = await begun(
      '--store',
      at('store'),
      '--port',
      '0',
      '--body',
      '1',
      '--jobs',
      '3',
      '--threads',
      '2',
    ))
  })
  afterAll(() => own.end())

  it('tells how it is to everybody, and all else to who has the token', async () => {
    expect((await ask(`${address}/health`, 'GET', undefined, {})).body).toMatchObject({ status: 'ok' })
    const metrics = await (await fetch(`${address}/metrics`)).text()
    expect(metrics).toMatch(/^relief_queue_shares\{state="waiting"\} \d+$/m)
    expect(metrics).toMatch(/^relief_rays_per_second \d+$/m)
    for (const headers of [
      {},
      { authorization: 'Bearer wrong' },
      { authorization: TOKEN },
      { authorization: `Basic ${TOKEN}` },
    ]) {
      const { status, body } = await ask(`${address}/jobs`, 'POST', job(), headers as Record<string, string>)
      expect([status, body.error]).toEqual([401, 'the token is missing or another'])
    }
    expect((await ask(`${address}/jobs/${'0'.repeat(32)}`, 'GET', undefined, {})).status).toBe(401)
    expect(readdirSync(at('store', 'jobs'))).toEqual([])
  })
  it('does a job, the same bytes as the command, and once however often it is asked', async () => {
    const first = await ask(`${address}/jobs`, 'POST', job())
    expect(first.status).toBe(201)
    expect(first.headers.get('location')).toBe(`/jobs/${first.body.id}`)
    const again = await ask(`${address}/jobs`, 'POST', job())
    expect([again.status, again.body.id]).toEqual([200, first.body.id])
    const done = await over(address, first.body.id)
    expect(done).toMatchObject({ state: 'done', progress: 1, secondsLeft: null })
    expect(await filesOf(address, done)).toEqual(alone('alone', ...JOB_ALONE))
    const late = await ask(`${address}/jobs`, 'POST', job())
    expect([late.status, (await ask(`${address}/jobs/${late.body.id}`, 'GET')).body.state]).toEqual([
      200,
      'done',
    ])
    expect(await (await fetch(`${address}/metrics`)).text()).toMatch(/^relief_rays_total [1-9]/m)
  })
  it('says in words what is wrong with a request', async () => {
    const said = async (body: unknown, headers?: Record<string, string>) => {
      const { status, body: answer } = await ask(`${address}/jobs`, 'POST', body, {
        authorization: `Bearer ${TOKEN}`,
        ...headers,
      })
      return [status, answer.error]
    }
    expect(await said('{"command"')).toEqual([400, 'body: is no JSON'])
    expect(await said(job({ colour: 1 }))).toEqual([400, 'colour: is nothing that render takes here'])
    expect(await said(job({ files: [{ name: '../x.obj', text: '' }] }))).toEqual([
      400,
      'files.0.name: is no plain file name, or folders and one',
    ])
    expect(await said('a=1', { 'content-type': 'text/plain' })).toEqual([
      415,
      'a job is sent as application/json',
    ])
    expect(await said(job({ files: [{ name: 'a.obj', text: 'x'.repeat(2 ** 20) }] }))).toEqual([
      413,
      'a request has 1 MB at the most',
    ])
  })
  it('has nothing at other addresses, and takes nothing from outside its results', async () => {
    const { id } = (await ask(`${address}/jobs`, 'POST', job())).body
    for (const [way, method, status] of [
      ['/', 'GET', 404],
      ['/jobs', 'GET', 405],
      [`/jobs/${'f'.repeat(32)}`, 'GET', 404],
      ['/jobs/..%2f..%2fetc', 'GET', 404],
      [`/jobs/${id}/files/..%2F..%2Fjob.json`, 'GET', 404],
      [`/jobs/${id}/files/..%2f..%2f..%2f..%2f..%2fetc%2fpasswd`, 'GET', 404],
      [`/jobs/${id}/files/none.png`, 'GET', 404],
      [`/jobs/${id}/files`, 'GET', 404],
      [`/jobs/${id}`, 'PUT', 405],
      ['/jobs/%E0%A4%A', 'GET', 400],
    ] as const)
      expect([way, (await ask(address + way, method)).status]).toEqual([way, status])
  })
  it('says why a job failed, and tries it anew when it is sent again', async () => {
    const broken = job({ files: [{ name: 'broken.obj', text: 'f 1 2 900\n' }] })
    const { id } = (await ask(`${address}/jobs`, 'POST', broken)).body
    const failed = await over(address, id)
    expect(failed.state).toBe('failed')
    expect(failed.error).toMatch(/^relief render: broken\.obj/)
    expect(JSON.stringify(failed)).not.toContain(folder)
    expect((await ask(`${address}/jobs`, 'POST', broken)).status).toBe(200)
    expect((await over(address, id)).state).toBe('failed')
    const wrong = (await ask(`${address}/jobs`, 'POST', job({ passes: 'clay,varnish' }))).body.id
    expect((await over(address, wrong)).error).toMatch(/there is no pass "varnish"/)
  })
  it('tells of a job as it goes on, and takes it away in its middle', async () => {
    const long = job({ size: '900x700', rays: 256, samples: 16 })
    const { id } = (await ask(`${address}/jobs`, 'POST', long)).body
    const events = await fetch(`${address}/jobs/${id}/events`, {
      headers: { authorization: `Bearer ${TOKEN}` },
    })
    const reader = events.body?.pipeThrough(new TextDecoderStream()).getReader()
    let heard = ''
    while (!/"state":"running","progress":0\.[0-9]*[1-9]/.test(heard))
      heard += (await reader?.read())?.value ?? ''
    expect((await ask(`${address}/jobs/${id}`, 'DELETE')).status).toBe(204)
    while (!/"state":"gone"/.test(heard)) heard += (await reader?.read())?.value ?? ''
    expect((await ask(`${address}/jobs/${id}`, 'DELETE')).status).toBe(404)
    await until('its command has ended', async () =>
      Promise.resolve(own.below.some(({ call }) => call.includes(' render ')) ? null : true),
    )
    expect(readdirSync(at('store', 'jobs'))).not.toContain(id)
    expect(readdirSync(at('store', 'trash'))).toEqual([])
  })
  it('lets in as many as it has room for', async () => {
    const many = [1, 2, 3].map((samples) => job({ size: '600x500', rays: 64, samples: 10 + samples }))
    const ids: string[] = []
    for (const one of many) ids.push((await ask(`${address}/jobs`, 'POST', one)).body.id)
    const { status, headers } = await ask(`${address}/jobs`, 'POST', job({ samples: 7 }))
    expect([status, headers.get('retry-after')]).toEqual([429, '10'])
    for (const id of ids) expect((await ask(`${address}/jobs/${id}`, 'DELETE')).status).toBe(204)
    expect((await ask(`${address}/jobs`, 'POST', job())).status).toBe(200)
  })
})

describe('four workers', () => {
  it('give the same bytes as one, whichever of them and the server is killed, twenty times', async () => {
    const args = ['--store', at('four'), '--workers', '4', '--threads', '1', '--shards', '12']
    const port = await freePort()
    let { own, address } = await begun(...args, '--port', String(port))
    const asked = job({ size: '500x400', rays: 24, samples: 3 })
    const { id } = (await ask(`${address}/jobs`, 'POST', asked)).body
    const second = job({ size: '500x400', rays: 24, samples: 3, passes: ['contour', 'lit'] })
    const other = (await ask(`${address}/jobs`, 'POST', second)).body.id
    // The same kills every time, as far as machines do the same.
    let seed = 7
    const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647
    let killed = 0
    while (killed < 20) {
      await new Promise((resolve) => setTimeout(resolve, 150 + 500 * random()))
      if (killed % 5 === 4) {
        await own.end('SIGKILL')
        ;({ own, address } = await begun(...args, '--port', String(port)))
        killed++
        continue
      }
      const { below } = own
      const victim = below[Math.floor(random() * below.length)]
      if (victim === undefined) continue
      try {
        process.kill(victim.pid, 'SIGKILL')
        killed++
      } catch {
        // It has ended meanwhile by itself.
      }
    }
    const done = await over(address, id)
    expect(done.state).toBe('done')
    const common = ['render', at('ground.obj'), '--size', '500x400', '--rays', '24', '--samples', '3']
    expect(await filesOf(address, done)).toEqual(alone('one', ...common, '--passes', 'depth,occlusion'))
    const also = await over(address, other)
    expect(await filesOf(address, also)).toEqual(alone('other', ...common, '--passes', 'contour,lit'))
    await own.end()
    // Nobody goes on whose server is gone, and nothing half-written is left.
    await until('all have ended', async () =>
      Promise.resolve(FarmProcess.ofStore(at('four')).length === 0 ? true : null),
    )
    expect(readdirSync(at('four', 'jobs', id, 'result')).sort()).toEqual([
      'view_depth.png',
      'view_occlusion.png',
    ])
  }, 480_000)
})

describe('several machines', () => {
  it('share jobs by a queue on a server of its own, which may go away, lose all and come back', async () => {
    const port = await freePort()
    const url = `redis://127.0.0.1:${port}`
    const redis = (): ChildProcess =>
      spawn('redis-server', ['--port', String(port), '--save', '', '--appendonly', 'no', '--dir', folder], {
        stdio: 'ignore',
      })
    let queue = redis()
    const { own, address } = await begun(
      '--store',
      at('many'),
      '--port',
      '0',
      '--redis',
      url,
      '--workers',
      '0',
      '--shards',
      '6',
    )
    const workers = [1, 2].map(() =>
      FarmProcess.begin('work', '--store', at('many'), '--redis', url, '--threads', '1'),
    )
    try {
      const first = (await ask(`${address}/jobs`, 'POST', job())).body.id
      await until('it is being done', async () =>
        (await ask(`${address}/jobs/${first}`, 'GET')).body.state === 'running' ? true : null,
      )
      queue.kill('SIGKILL')
      await until('that is told', async () =>
        (await ask(`${address}/health`, 'GET')).status === 503 ? true : null,
      )
      const second = await ask(`${address}/jobs`, 'POST', job({ passes: ['clay'] }))
      expect(second.status).toBe(201)
      queue = redis()
      expect(await filesOf(address, await over(address, first))).toEqual(alone('many-one', ...JOB_ALONE))
      expect((await over(address, second.body.id)).state).toBe('done')
      expect((await ask(`${address}/health`, 'GET')).body.status).toBe('ok')
    } finally {
      await Promise.all([own, ...workers].map((process) => process.end()))
      queue.kill()
    }
  }, 300_000)
  it('say what is wrong with how they are begun', () => {
    const refused = (...args: string[]) => reliefHere(...args).stderr
    expect(refused('serve')).toMatch(/^relief serve: relief serve --store DIR/)
    expect(refused('serve', '--store', at('x'), '--redis', 'http://a')).toMatch(/--redis takes an address/)
    expect(refused('serve', '--store', at('x'), '--port', '99999')).toMatch(/--port takes a whole number/)
    expect(refused('work', '--store', at('nowhere'))).toMatch(/nowhere: is no store of relief serve/)
  })
})
