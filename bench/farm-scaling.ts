import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { spawn } from 'node:child_process'
import { tmpdir } from 'node:os'
import path from 'node:path'

/**
 * One render of the demo by the command alone, and through the queue of one machine by one, two and four workers; the time from
 * sending the job to its last file. Two cores: two workers of one thread have what one of two threads has.
 */
const ROUNDS = 3
const TOKEN = 'bench'
const BODY = {
  command: 'render',
  files: [{ name: 'low-water.zip', base64: readFileSync('demo/low-water.zip').toString('base64') }],
  passes: ['clay', 'occlusion'],
  size: '960x600',
  samples: 4,
  rays: 16,
}
const WAYS = [
  { name: 'one worker, two threads, one share', workers: 1, threads: 2, shards: 1 },
  { name: 'one worker, one thread, one share', workers: 1, threads: 1, shards: 1 },
  { name: 'two workers, one thread each, eight shares', workers: 2, threads: 1, shards: 8 },
  { name: 'four workers, one thread each, sixteen shares', workers: 4, threads: 1, shards: 16 },
]

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

export async function main(): Promise<void> {
  const times = new Map<string, number[]>()
  const pictures = new Set<string>()
  const note = (name: string, seconds: number) => times.set(name, [...(times.get(name) ?? []), seconds])
  for (let round = 0; round < ROUNDS; round++) {
    const folder = mkdtempSync(path.join(tmpdir(), 'relief-bench-'))
    const began = performance.now()
    const { passes, size, samples, rays } = BODY
    await ended(
      spawn(process.execPath, [
        'cli/relief.mjs',
        ...['render', 'demo/low-water.zip', '--passes', passes.join(), '--size', size],
        ...['--samples', String(samples), '--rays', String(rays), '--threads', '2', '--out', folder],
      ]),
    )
    note('the command alone, two threads', (performance.now() - began) / 1000)
    rmSync(folder, { recursive: true })
    for (const way of WAYS) note(way.name, await served(way, pictures))
  }
  console.log('| | seconds |\n| --- | ---: |')
  for (const [name, own] of times) console.log(`| ${name} | ${median(own).toFixed(1)} |`)
  console.log(`pictures: ${pictures.size === 1 ? 'the same bytes from all' : `${pictures.size} different`}`)
}

const ended = (child: ReturnType<typeof spawn>): Promise<unknown> =>
  new Promise((resolve) => child.once('exit', resolve))

async function served(
  { workers, threads, shards }: (typeof WAYS)[number],
  pictures: Set<string>,
): Promise<number> {
  const store = mkdtempSync(path.join(tmpdir(), 'relief-bench-'))
  const call = ['serve', '--store', store, '--port', '0', '--token', TOKEN]
  const counts = ['--workers', String(workers), '--threads', String(threads), '--shards', String(shards)]
  const server = spawn(process.execPath, ['cli/relief.mjs', ...call, ...counts])
  try {
    const address = await new Promise<string>((resolve) =>
      server.stdout.on('data', (piece: Buffer) => {
        const found = /http:\S+/.exec(piece.toString('utf8'))
        if (found) resolve(found[0])
      }),
    )
    // Workers are there before the clock begins.
    await new Promise((resolve) => setTimeout(resolve, 3000))
    const headers = { authorization: `Bearer ${TOKEN}`, 'content-type': 'application/json' }
    const began = performance.now()
    const sent = await fetch(`${address}/jobs`, { method: 'POST', headers, body: JSON.stringify(BODY) })
    const { id } = (await sent.json()) as { id: string }
    for (;;) {
      const job = (await (await fetch(`${address}/jobs/${id}`, { headers })).json()) as {
        state: string
        files: { url: string }[]
      }
      if (job.state === 'failed') throw new Error(JSON.stringify(job))
      if (job.state === 'done') {
        const seconds = (performance.now() - began) / 1000
        const bytes = await Promise.all(
          job.files.map(async ({ url }) =>
            Buffer.from(await (await fetch(address + url, { headers })).arrayBuffer()).toString('base64'),
          ),
        )
        pictures.add(bytes.join())
        return seconds
      }
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  } finally {
    server.kill('SIGTERM')
    await ended(server)
    rmSync(store, { recursive: true, force: true })
  }
}
