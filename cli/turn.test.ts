import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { decodeApng } from 'fast-png'
import { unzipSync } from 'fflate'
import sharp from 'sharp'
import { beforeAll, describe, expect, it } from 'vitest'
import { exrValues, readExr } from '@/core/formats/exr'
import { readPng } from '@/core/formats/png'
import { summarizeMesh } from '@/core/geometry/mesh-summary'
import { propKind } from '@/core/geometry/props/registry'
import { linearToSrgb } from '@/core/math/colour'
import { paramDefaults } from '@/core/params'
import { evenFill, newLayer, passOf, wholePicture } from '@/core/sheet/new-layer'
import { newTurn, type Turn } from '@/core/turn/turn-schema'
import { newPass, newProject } from '@/data/new-project'
import { writeProjectArchive } from '@/data/project-archive'
import { toProjectModel } from '@/data/project-scene'
import type { Project } from '@/data/project-schema'
import { reliefHere } from './testing/relief-here'

/** `relief turn` and `relief join`, on a block that stands beside the axis. */

const folder = mkdtempSync(path.join(tmpdir(), 'relief-turn-'))
const at = (...names: string[]) => path.join(folder, ...names)
const relief = reliefHere
const turned = (out: string, ...args: string[]) =>
  relief('turn', at('block.zip'), '--out', at(out), '--quality', 'draft', ...args)
const bytes = (...names: string[]) => readFileSync(at(...names))
const frames = (out: string) =>
  readdirSync(at(out))
    .filter((name) => name.endsWith('.png'))
    .sort()

function blockProject(): Project {
  const project = newProject('Block')
  const [shot] = project.shots
  const params = paramDefaults(propKind('pedestal').schema)
  const model = propKind('pedestal').make(params)
  const own = toProjectModel(
    'block',
    { type: 'prop', prop: 'pedestal', params: params as never },
    model,
    summarizeMesh(model.mesh, model.parts.length),
  )
  const beside = {
    ...own,
    id: 'beside',
    placement: {
      ...own.placement,
      scale: [0.3, 2, 0.3] as [number, number, number],
      position: [0.6, 1.3, 0.1] as [number, number, number],
    },
  }
  project.models = [
    { ...own, parts: own.parts.map((part) => ({ ...part, key: part.key })) },
    {
      ...beside,
      parts: beside.parts.map((part, i) => ({ ...part, key: `beside/${i}` })),
      materials: beside.materials.map((material, i) => ({ ...material, key: `beside/${i}` })),
    },
  ]
  const passes = (['clay', 'contour', 'occlusion'] as const).map((kind) => ({
    ...newPass(shot.id, kind),
    id: kind,
  }))
  project.passes = passes
  shot.frame = { width: 96, height: 64 }
  shot.camera = { ...shot.camera, eye: [0, 2, 6], target: [0, 0.6, 0] }
  const layers = [
    newLayer({ id: 'ground', name: 'Ground', content: evenFill('#d8cbb0') }),
    newLayer({ id: 'clay', name: 'Clay', content: passOf('clay', {}) }),
    newLayer({ id: 'contour', name: 'Contour', content: passOf('contour', {}) }),
  ]
  project.sheets = [
    {
      ...project.sheets[0],
      id: 'sheet',
      ...shot.frame,
      roots: layers.map(({ id }) => id),
      nodes: Object.fromEntries(layers.map((layer) => [layer.id, layer])),
    },
  ]
  shot.sheetId = 'sheet'
  const reveal = {
    id: 'r',
    layerId: 'contour',
    kind: 'fade' as const,
    from: 6,
    whole: 8,
    goes: null,
    gone: null,
    ease: 'even' as const,
    angleDeg: 0,
    softness: 0,
    centre: [0.5, 0.5] as [number, number],
    parts: [],
  }
  const twice: Turn = { ...newTurn('t', 'Twice', 'sheet', { turns: 2, framesPerTurn: 6 }), reveals: [reveal] }
  project.turns = [twice, newTurn('o', 'Once', 'sheet', { turns: 1, framesPerTurn: 4, what: 'camera' })]
  return project
}

beforeAll(async () => {
  const archive = await writeProjectArchive({ project: blockProject(), files: new Map(), results: new Map() })
  writeFileSync(at('block.zip'), archive)
  for (const [name, content] of Object.entries(unzipSync(archive))) {
    mkdirSync(path.dirname(at('open', name)), { recursive: true })
    writeFileSync(at('open', name), content)
  }
  expect(turned('whole').stderr).toBe('')
}, 120_000)

describe('relief turn', () => {
  it('writes every frame but the one that is the first again', () => {
    expect(frames('whole')).toEqual(
      Array.from({ length: 12 }, (_, i) => `frame_00${String(i).padStart(2, '0')}.png`),
    )
    const { width, height } = readPng(new Uint8Array(bytes('whole', 'frame_0000.png')), 'frame')
    expect([width, height]).toEqual([96, 64])
  })
  it('shows the same a turn later where the stack is the same, and the lines once they have come', () => {
    for (const frame of [0, 1, 2, 3, 4, 5]) {
      const [first, second] = [frame, frame + 6].map((own) =>
        bytes('whole', `frame_${String(own).padStart(4, '0')}.png`),
      )
      // Nothing of the contour is seen up to frame 6.
      expect(first.equals(second)).toBe(frame === 0)
    }
    const pictures = frames('whole').map((name) => bytes('whole', name).toString('base64'))
    expect(new Set(pictures.slice(0, 6)).size).toBe(6)
  })
  it('turns: what stood right of the axis stands left of it half a turn later', () => {
    const middleOf = (name: string): number => {
      const { width, height, pixels } = readPng(new Uint8Array(bytes('whole', name)), name)
      let [sum, all] = [0, 0]
      // Above the wide block only the tall one is seen.
      for (let y = 0; y < height / 3; y++)
        for (let x = 0; x < width; x++) {
          const i = 4 * (y * width + x)
          const away = Math.abs(pixels[i] - 0xd8 / 255) + Math.abs(pixels[i + 2] - 0xb0 / 255)
          if (away > 0.05) {
            sum += x
            all++
          }
        }
      return sum / all
    }
    expect(middleOf('frame_0000.png')).toBeGreaterThan(50)
    expect(middleOf('frame_0003.png')).toBeLessThan(46)
  })
  it('writes shards that join to what one run writes, bit for bit', () => {
    for (const shard of ['1/3', '2/3', '3/3'])
      expect(turned(`s${shard[0]}`, '--shard', shard).stderr).toBe('')
    // Frames that stand alike are of one shard: no pose is rendered twice.
    expect(frames('s1')).toEqual(['frame_0000.png', 'frame_0001.png', 'frame_0006.png', 'frame_0007.png'])
    expect(relief('join', at('s3'), at('s1'), at('s2'), '--out', at('joined')).stderr).toBe('')
    expect(frames('joined')).toEqual(frames('whole'))
    for (const name of [...frames('whole'), 'turn.json'])
      expect(bytes('joined', name).equals(bytes('whole', name))).toBe(true)
  })
  it('goes on where it was interrupted, and makes nothing twice', () => {
    expect(turned('resumed', '--frames', '0-3').stderr).toBe('')
    rmSync(at('resumed', 'frame_0002.png'))
    const kept = readFileSync(at('resumed', 'frame_0001.png'))
    writeFileSync(at('resumed', 'frame_0001.png'), Buffer.concat([kept, Buffer.from('kept')]))
    expect(turned('resumed').stderr).toMatch(/--resume goes on/)
    expect(turned('resumed', '--resume').stderr).toBe('')
    expect(frames('resumed')).toEqual(frames('whole'))
    expect(bytes('resumed', 'frame_0001.png').length).toBe(kept.length + 4)
    expect(bytes('resumed', 'frame_0002.png').equals(bytes('whole', 'frame_0002.png'))).toBe(true)
  })
  it('takes an unpacked project, a turntable by its name, a size, and some of its frames', () => {
    const { stderr } = relief(
      ...['turn', at('open'), '--turn', 'Once', '--frames', '1-2', '--size', '48x32'],
      ...['--quality', 'draft', '--out', at('once')],
    )
    expect(stderr).toBe('')
    expect(frames('once')).toEqual(['frame_0001.png', 'frame_0002.png'])
    const { width, height } = readPng(new Uint8Array(bytes('once', 'frame_0001.png')), 'frame')
    expect([width, height]).toEqual([48, 32])
  })
  it('refuses what it cannot do, by name, and leaves nothing behind', () => {
    const refused = (...args: string[]) => {
      const { status, stderr } = relief('turn', at('block.zip'), '--out', at('refused'), ...args)
      expect(status).not.toBe(0)
      expect(readdirSync(folder)).not.toContain('refused')
      return stderr
    }
    expect(refused('--turn', 'Thrice')).toMatch(/has no turntable "Thrice", but "Twice", "Once"/)
    expect(refused('--frames', '3-12')).toMatch(/--frames takes A-B within 0-11/)
    expect(refused('--shard', '4/3')).toMatch(/--shard takes I\/N/)
    expect(refused('--quality', 'fine')).toMatch(/--quality takes draft, good, final/)
    expect(refused('--sheet', 'None')).toMatch(/has no sheet "None"/)
    expect(turned('whole').stderr).toMatch(/holds some of these frames/)
    expect(turned('whole', '--size', '48x32').stderr).toMatch(/holds frames of something else/)
  })
})

describe('a plain turn of a sheet', () => {
  it('has as many turns and frames as are asked for, and reveals made in one press', () => {
    const args = ['--sheet', 'Sheet 1', '--turns', '2', '--turn-frames', '8', '--size', '48x32']
    const drawn = turned('drawn', ...args, '--reveals', 'drawn', '--frames', '0-2')
    expect(drawn.stderr).toBe('')
    expect(turned('plain', ...args, '--frames', '0-2').stderr).toBe('')
    const dark = (out: string, frame: number): number => {
      const { pixels } = readPng(new Uint8Array(bytes(out, `frame_000${frame}.png`)), 'frame')
      return pixels.reduce((sum, v, i) => (i % 4 === 3 ? sum : sum + 1 - v), 0)
    }
    // No line is there yet, then more of them.
    expect(dark('drawn', 0)).toBeLessThan(dark('plain', 0))
    expect(dark('plain', 0) - dark('drawn', 0)).toBeGreaterThan(dark('plain', 2) - dark('drawn', 2))
    expect(JSON.parse(bytes('plain', 'turn.json').toString())).toMatchObject({
      frames: 16,
      written: [0, 1, 2],
    })
  })
  it('is refused what it has no layer for, and stored ones keep their turns', () => {
    const refused = (...args: string[]) => turned('refused', ...args).stderr
    expect(refused('--sheet', 'Sheet 1', '--reveals', 'wires')).toMatch(/has no layer for it/)
    expect(refused('--reveals', 'spin')).toMatch(/--reveals takes wires, peel, drawn/)
    expect(refused('--turns', '3')).toMatch(/"Twice" has its own/)
  })
})

describe('frames of other kinds', () => {
  const one = ['--turn', 'Once', '--size', '48x32', '--frames', '1-2']
  it('are PNG of 16 bits, or EXR in linear light, the same picture', () => {
    for (const format of ['png', 'png16', 'exr'])
      expect(turned(format, ...one, '--format', format).stderr).toBe('')
    const [plain, deep] = ['png', 'png16'].map((name) =>
      readPng(new Uint8Array(bytes(name, 'frame_0001.png')), name),
    )
    plain.pixels.forEach((v, i) => expect(Math.abs(v - deep.pixels[i])).toBeLessThan(0.0021))
    expect(bytes('png16', 'frame_0001.png')[24]).toBe(16)
    const { channels, width } = readExr(new Uint8Array(bytes('exr', 'frame_0002.exr')), 'frame')
    expect(width).toBe(48)
    const red = exrValues(channels.find(({ name }) => name === 'R') ?? channels[0])
    const same = readPng(new Uint8Array(bytes('png16', 'frame_0002.png')), 'frame')
    red.forEach((v, i) => expect(Math.abs(linearToSrgb(v) - same.pixels[4 * i])).toBeLessThan(0.001))
  })
  it('are refused by names, in films, and where films are joined of them', () => {
    expect(turned('wrong', ...one, '--format', 'tiff').stderr).toMatch(/--format takes png, png16, exr/)
    expect(turned('wrong.gif', ...one, '--format', 'exr').stderr).toMatch(/a film is what its name ends with/)
    expect(turned('all-exr', '--turn', 'Once', '--size', '16x16', '--format', 'exr').stderr).toBe('')
    expect(relief('join', at('all-exr'), '--out', at('exr.gif')).stderr).toMatch(/holds .exr files/)
    expect(relief('join', at('all-exr'), '--out', at('exr-joined')).stderr).toBe('')
    expect(bytes('exr-joined', 'frame_0003.exr')).toEqual(bytes('all-exr', 'frame_0003.exr'))
  })
  it('are blurred while the shutter is open, and go on alike where they were interrupted', async () => {
    const project = blockProject()
    project.turns = project.turns.map((turn) => ({ ...turn, shutter: 1, shutterSteps: 6 }))
    writeFileSync(
      at('blurred.zip'),
      await writeProjectArchive({ project, files: new Map(), results: new Map() }),
    )
    const run = (out: string, ...args: string[]) =>
      relief('turn', at('blurred.zip'), '--out', at(out), '--quality', 'draft', '--turn', 'Once', ...args)
    expect(run('blur').stderr).toBe('')
    expect(turned('sharp', '--turn', 'Once').stderr).toBe('')
    /** How much neighbours in a row differ. */
    const edges = (out: string): number => {
      const { width, pixels } = readPng(new Uint8Array(bytes(out, 'frame_0001.png')), out)
      let [most, sum] = [0, 0]
      for (let i = 4; i < pixels.length; i += 4)
        if ((i / 4) % width !== 0) {
          const step = Math.abs(pixels[i] - pixels[i - 4])
          most = Math.max(most, step)
          sum += pixels[i]
        }
      expect(sum).toBeGreaterThan(0)
      return most
    }
    expect(edges('blur')).toBeLessThan(0.8 * edges('sharp'))
    expect(run('blur-parts', '--frames', '2-3').stderr).toBe('')
    expect(run('blur-parts', '--resume').stderr).toBe('')
    for (const name of frames('blur')) expect(bytes('blur-parts', name)).toEqual(bytes('blur', name))
  })
  it('show a sequence that was brought in, each its own picture', async () => {
    const project = blockProject()
    const files = new Map<string, { readonly name: string; readonly bytes: Uint8Array }>()
    const frame = async (number: number) => {
      const fileId = `file-${number}`
      const colour = { r: 40 * number, g: 0, b: 0 }
      const picture = sharp({ create: { width: 96, height: 64, channels: 3, background: colour } })
      files.set(fileId, { name: `fog_${number}.png`, bytes: new Uint8Array(await picture.png().toBuffer()) })
      return { number, name: `fog_${number}.png`, fileId }
    }
    project.sequences = [
      {
        id: 'fog',
        name: 'fog',
        width: 96,
        height: 64,
        first: 1,
        frames: [await frame(1), await frame(2), await frame(4)],
      },
    ]
    const sequence = {
      sequenceId: 'fog',
      rate: null,
      from: 0,
      to: 4,
      reverse: false,
      after: 'hold' as const,
      begins: 0,
      gaps: 'before' as const,
    }
    const layer = newLayer({
      id: 'fog',
      name: 'fog',
      content: { ...wholePicture('file-1'), sequence },
    })
    project.sheets[0].roots.push('fog')
    project.sheets[0].nodes.fog = layer
    writeFileSync(at('fog.zip'), await writeProjectArchive({ project, files, results: new Map() }))
    const { stderr } = relief(
      'turn',
      at('fog.zip'),
      '--out',
      at('fog'),
      '--quality',
      'draft',
      '--turn',
      'Once',
    )
    expect(stderr).toBe('')
    const reds = frames('fog').map((name) =>
      Math.round(255 * readPng(new Uint8Array(bytes('fog', name)), name).pixels[0]),
    )
    // The third is missing: the one before it stands there.
    expect(reds).toEqual([40, 80, 80, 160])
  })
})

describe('a film of a turntable', () => {
  it('is a GIF or an animated PNG of all frames, and its frames are gone', async () => {
    const args = ['--turn', 'Once', '--size', '48x32', '--plays', '2']
    for (const ending of ['gif', 'apng', 'webp']) expect(turned(`film.${ending}`, ...args).stderr).toBe('')
    expect(readdirSync(folder).filter((name) => name.includes('film'))).toEqual([
      'film.apng',
      'film.gif',
      'film.webp',
    ])
    for (const ending of ['gif', 'webp']) {
      const film = sharp(at(`film.${ending}`), { animated: true })
      const { pages, width, pageHeight, loop } = await film.metadata()
      expect([pages, width, pageHeight, loop]).toEqual([4, 48, 32, 2])
    }
    const read = decodeApng(new Uint8Array(bytes('film.apng')))
    expect([read.width, read.height, read.numberOfFrames, read.numberOfPlays]).toEqual([48, 32, 4, 2])
    expect(turned('film.gif', ...args).stderr).toMatch(/film.gif: is already there/)
  })
  it('is joined of what several machines made, as of one run', async () => {
    expect(relief('join', at('joined'), '--out', at('joined.apng')).stderr).toBe('')
    const read = decodeApng(new Uint8Array(bytes('joined.apng')))
    const first = readPng(new Uint8Array(bytes('whole', 'frame_0000.png')), 'frame')
    expect(read.numberOfFrames).toBe(12)
    expect([...read.frames[0].data]).toEqual([...first.pixels].map((v) => Math.round(255 * v)))
  })
  it('is written by a program of the host where this one cannot, and says so where there is none', () => {
    const env = { ...process.env, PATH: at('nothing') }
    const { status, stderr } = spawnSync(
      process.execPath,
      [path.resolve('cli/relief.mjs'), 'join', at('joined'), '--out', at('film.mp4')],
      { encoding: 'utf8', env },
    )
    expect(status).toBe(1)
    expect(stderr).toMatch(/a .mp4 file is written by ffmpeg, which is not installed here/)
    expect(readdirSync(folder).filter((name) => name.startsWith('film.mp4'))).toEqual([])
  })
})

describe('relief join', () => {
  it('refuses what is no folder of frames, of something else, or not all of it', () => {
    const joined = (...folders: string[]) =>
      relief('join', ...folders.map((name) => at(name)), '--out', at('none')).stderr
    expect(joined('open')).toMatch(/open: holds neither turn.json nor shard.json/)
    expect(joined('s1', 'once')).toMatch(/once: holds frames of something else/)
    expect(joined('s1', 's3')).toMatch(/4 of 12 frames are missing, the first of them 2/)
    writeFileSync(at('s2', 'turn.json'), '{"kind":"turntable frames","version":1}')
    expect(joined('s1', 's2')).toMatch(/turn.json: turn: /)
    expect(readdirSync(folder)).not.toContain('none')
  })
})
