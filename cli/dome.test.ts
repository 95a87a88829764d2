import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import sharp from 'sharp'
import { expect, it } from 'vitest'
import { writePng } from '@/core/formats/png'
import { newLight } from '@/core/scene/light-rig'
import { newProject } from '@/data/new-project'
import { writeProjectArchive } from '@/data/project-archive'
import { testModel } from '@/data/testing/fixtures'
import { reliefHere } from './testing/relief-here'

const folder = mkdtempSync(path.join(tmpdir(), 'relief-dome-'))
const at = (...names: string[]) => path.join(folder, ...names)
const SQUARE = 'o Roof\nv -1 0 -1\nv 1 0 -1\nv 1 0 1\nv -1 0 1\nf 4 3 2 1\n'

/** A project lit by one picture all round, green above and red below. */
async function archive(isWhole = true): Promise<Uint8Array> {
  const project = newProject('Round')
  project.models = [testModel()]
  const [width, height] = [16, 8]
  const rgba = new Uint8Array(4 * width * height)
  for (let p = 0; p < width * height; p++)
    rgba.set(p < (width * height) / 2 ? [0, 200, 0, 255] : [200, 0, 0, 255], 4 * p)
  project.pictures = [{ id: 'p', name: 'round.png', fileId: 'r' }]
  project.rigs[0].lights = [newLight('dome', 'All round', { look: 'picture', pictureId: 'p' })]
  const picture = isWhole ? writePng(width, height, rgba) : new Uint8Array([1, 2, 3])
  const files = new Map([
    ['f', { name: 'k.obj', bytes: new TextEncoder().encode(SQUARE) }],
    ['r', { name: 'round.png', bytes: picture }],
  ])
  return writeProjectArchive({ project, files, results: new Map() })
}
const VIEW = ['--eye', '0,0.5,6', '--target', '0,0.5,0', '--size', '24x16']

it('a picture all round lights a project from the command line, and is seen as its surroundings', async () => {
  writeFileSync(at('round.zip'), await archive())
  const { status, stderr } = reliefHere(
    ...[
      'render',
      at('round.zip'),
      '--passes',
      'surroundings,clay',
      '--out',
      at('out'),
      '--name',
      '{pass}',
      ...VIEW,
    ],
  )
  expect([status, stderr]).toEqual([0, ''])
  const seen = await sharp(at('out', 'surroundings.png')).raw().toBuffer()
  const pixel = (x: number, y: number) => [...seen.subarray(4 * (24 * y + x), 4 * (24 * y + x) + 3)]
  const [above, below] = [pixel(12, 1), pixel(12, 14)]
  expect(above[1]).toBeGreaterThan(above[0] + 100)
  expect(below[0]).toBeGreaterThan(below[1] + 100)
  // The square is lit from above: it is seen, and green.
  const clay = await sharp(at('out', 'clay.png')).raw().toBuffer()
  const lit = [...Array(24 * 16).keys()]
    .filter((p) => clay[4 * p + 3] > 200)
    .map((p) => [clay[4 * p], clay[4 * p + 1]])
  expect(lit.length).toBeGreaterThan(0)
  expect(lit.every(([red, green]) => green > red)).toBe(true)
})
it('one that cannot be read is told by its name, and nothing is written', async () => {
  writeFileSync(at('spoilt.zip'), await archive(false))
  const { status, stderr } = reliefHere(
    ...['render', at('spoilt.zip'), '--passes', 'surroundings', '--out', at('none'), ...VIEW],
  )
  expect(status).not.toBe(0)
  expect(stderr).toMatch(/round\.png/)
})
