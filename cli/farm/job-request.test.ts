import { describe, expect, it } from 'vitest'
import { BadRequest, isPlainPath, jobFrom } from './job-request'

/** What a server takes in: everything else is refused by the name of its field. */

const MODEL = { name: 'post.obj', text: 'v 0 0 0' }
const asked = (more: object = {}) =>
  jobFrom({ command: 'render', files: [MODEL], passes: ['clay', 'id'], size: '64x48', ...more }, 4, 0)
const refusedBy = (body: unknown): string => {
  try {
    jobFrom(body, 4, 0)
  } catch (error) {
    if (error instanceof BadRequest) return error.message
    throw error
  }
  return ''
}
const refused = (more: object): string => refusedBy({ command: 'render', files: [MODEL], ...more })

describe('a job', () => {
  it('is called as anyone would call the command', () => {
    const { job, files } = asked({
      samples: 4,
      view: [-30, 20],
      set: ['clay.gap=2', 'id.by=part'],
      denoise: false,
    })
    expect(job).toMatchObject({ command: 'render', shards: 4, isShared: true, out: null })
    expect(job.args).toEqual([
      '--passes=clay,id',
      '--samples=4',
      '--set=clay.gap=2',
      '--set=id.by=part',
      '--size=64x48',
      '--view=-30,20',
      '--',
      'post.obj',
    ])
    expect(files.map(({ name, bytes }) => [name, Buffer.from(bytes).toString()])).toEqual([
      ['post.obj', 'v 0 0 0'],
    ])
  })
  it('has the same name whenever it is the same, and only then', () => {
    const base = asked().job.id
    expect(base).toMatch(/^[0-9a-f]{32}$/)
    expect(asked({ size: { width: 64, height: 48 } }).job.id).toBe(base)
    expect(asked({ size: [64, 48], passes: 'clay,id' }).job.id).toBe(base)
    expect(
      asked({ files: [{ name: 'post.obj', base64: Buffer.from('v 0 0 0').toString('base64') }] }).job.id,
    ).toBe(base)
    // How it is dealt out changes nothing about what it becomes.
    expect(asked({ shards: 9 }).job).toMatchObject({ id: base, shards: 9 })
    const others = [
      { samples: 2 },
      { files: [{ name: 'post.obj', text: 'v 0 0 1' }] },
      { files: [{ name: 'mast.obj', text: 'v 0 0 0' }] },
      { passes: ['id', 'clay'] },
    ].map((more) => asked(more).job.id)
    expect(new Set([base, ...others]).size).toBe(5)
  })
  it('is of the files that stand beside no other', () => {
    const files = [MODEL, { name: 'post.mtl', text: '' }, { name: 'maps/bark.png', base64: '' }]
    expect(asked({ files }).job.args.slice(-2)).toEqual(['--', 'post.obj'])
    expect(asked({ files: [...files, { name: 'b.glb', text: '' }] }).job.args.slice(-2)).toEqual([
      'post.obj',
      'b.glb',
    ])
    expect(
      asked({ files: [...files, { name: 'b.glb', text: '' }], inputs: ['b.glb'] }).job.args.slice(-2),
    ).toEqual(['--', 'b.glb'])
    expect(refused({ inputs: ['other.obj'] })).toMatch(/^inputs: other\.obj is none of the files/)
    expect(refusedBy({ command: 'render', files: [{ name: 'a.mtl', text: '' }] })).toMatch(
      /^files: hold no model/,
    )
  })
  it('of one picture says what that is called', () => {
    const compose = { command: 'compose', files: [{ name: 'p.zip', base64: '' }] }
    expect(jobFrom(compose, 4, 0).job).toMatchObject({ out: 'sheet.png', isShared: false, shards: 1 })
    expect(jobFrom({ ...compose, out: 'a.pdf' }, 4, 0).job.out).toBe('a.pdf')
    expect(jobFrom({ ...compose, command: 'turn', out: 'a.webm' }, 4, 0).job).toMatchObject({
      out: 'a.webm',
      shards: 4,
    })
    expect(refused({ out: 'a.png' })).toMatch(/^out: render writes several files/)
    expect(refusedBy({ ...compose, out: '../a.png' })).toMatch(/^out: /)
    expect(refusedBy({ ...compose, out: 'sub/a.png' })).toMatch(/^out: is one plain file name/)
  })
  it('is not dealt out where its pictures are made as wholes', () => {
    for (const patch of [{ denoise: true }, { together: true }])
      expect(asked(patch).job).toMatchObject({ isShared: false, shards: 1 })
    expect(asked({ denoise: false }).job).toMatchObject({ isShared: true, shards: 4 })
    const parts = { command: 'separate', files: [MODEL], sets: 'all' }
    expect(jobFrom(parts, 4, 0).job).toMatchObject({ isShared: true, shards: 4 })
    for (const patch of [{ atlas: 512 }, { scales: [1, 2] }, { backdrop: true }])
      expect(jobFrom({ ...parts, ...patch }, 4, 0).job).toMatchObject({ isShared: false, shards: 1 })
  })
  it('decides nothing that is the server’s', () => {
    for (const name of [
      'threads',
      'overwrite',
      'resume',
      'shard',
      'report',
      'store',
      'constructor',
      '__proto__x',
    ])
      expect(refused({ [name]: 1 })).toMatch(`${name}: is nothing that render takes here`)
    expect(refusedBy({ command: 'serve', files: [MODEL] })).toMatch(/^command: /)
    expect(refusedBy({ command: 'toString', files: [MODEL] })).toMatch(/^command: /)
  })
  it('is an object with fields of their kinds', () => {
    for (const body of [null, 3, 'render', [], [{}]]) expect(refusedBy(body)).toBe('body: is no object')
    expect(refusedBy({})).toMatch(/^command: /)
    expect(refusedBy({ command: 'render' })).toMatch(/^files: /)
    expect(refusedBy({ command: 'render', files: [] })).toMatch(/^files: /)
    expect(refused({ samples: { a: 1 } })).toMatch(/^samples/)
    expect(refused({ samples: true })).toMatch(/^samples: takes a value/)
    expect(refused({ denoise: 'yes' })).toMatch(/^denoise: is true or false/)
    expect(refused({ shards: 0 })).toMatch(/^shards: /)
    expect(refusedBy({ command: 'render', files: [{ name: 'a.obj' }] })).toMatch(
      /^files\.0: takes either text or base64/,
    )
    expect(refusedBy({ command: 'render', files: [{ name: 'a.obj', base64: 'a b=' }] })).toMatch(
      /is no base64/,
    )
    expect(refusedBy({ command: 'render', files: [MODEL, { ...MODEL, name: 'POST.obj' }] })).toMatch(
      /given twice/,
    )
    expect(refusedBy({ command: 'hang', files: [MODEL], recipe: '/etc/own.zip', size: '64x64' })).toMatch(
      /^recipe: .+ is none of the files/,
    )
  })
})

describe('names of files', () => {
  it.each(['a.obj', 'maps/bark 2.png', 'Größe/Möwe.glb', 'a..b.obj', '~a.obj'])('%s is one', (name) => {
    expect(isPlainPath(name)).toBe(true)
  })
  it.each([
    ...[
      '',
      '.',
      '..',
      '../a',
      'a/../b',
      '/a',
      'a//b',
      'a/',
      'C:a',
      'a\\b',
      'a\0b',
      'a\nb',
      '.hidden',
      'a/.b',
    ],
    ...['con', 'NUL.obj', 'com1.txt', 'a.', 'a ', ' a', '-rf', 'a/-x', 'a|b', 'a*b', 'x'.repeat(130)],
    'd/'.repeat(250) + 'a',
  ])('%j is none', (name) => {
    expect(isPlainPath(name)).toBe(false)
  })
})
