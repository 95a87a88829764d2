import { spawnSync } from 'node:child_process'
import { cpus } from 'node:os'
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js'
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js'
import { PLYLoader } from 'three/examples/jsm/loaders/PLYLoader.js'
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js'
import { readModel } from '@/core/formats/model-readers'
import { inspectMesh } from '@/core/geometry/mesh-report'
import { faceCount } from '@/core/geometry/polygon-mesh'

/**
 * Two million triangles of a dented ball in each format: read into a polygon mesh with normals, and looked over for the
 * report; beside three's loaders, which keep triangles only and need no report. Each run is a process of its own, so that
 * its largest memory is its own.
 */
const ROWS = 1000
const COLUMNS = 1000
const RUNS = 3

interface Ball {
  readonly positions: Float32Array
  /** Two triangles a cell. */
  readonly indices: Uint32Array
}
function ball(): Ball {
  const positions = new Float32Array(3 * (ROWS + 1) * COLUMNS)
  const indices = new Uint32Array(6 * ROWS * COLUMNS)
  for (let i = 0, at = 0; i <= ROWS; i++) {
    for (let j = 0; j < COLUMNS; j++) {
      // Not quite from pole to pole: no polygon is empty.
      const [theta, phi] = [0.02 + (i / ROWS) * (Math.PI - 0.04), (j / COLUMNS) * 2 * Math.PI]
      const r = 1 + 0.12 * Math.sin(9 * theta) * Math.cos(7 * phi)
      positions[at++] = r * Math.sin(theta) * Math.cos(phi)
      positions[at++] = r * Math.cos(theta)
      positions[at++] = r * Math.sin(theta) * Math.sin(phi)
    }
  }
  for (let i = 0, at = 0; i < ROWS; i++) {
    for (let j = 0; j < COLUMNS; j++) {
      const [a, b] = [i * COLUMNS + j, i * COLUMNS + ((j + 1) % COLUMNS)]
      indices.set([a, b, b + COLUMNS, a, b + COLUMNS, a + COLUMNS], at)
      at += 6
    }
  }
  return { positions, indices }
}

const text = (lines: string[]) => new TextEncoder().encode(lines.join('\n') + '\n')
function joined(head: string, ...rest: Uint8Array[]): Uint8Array {
  const first = new TextEncoder().encode(head)
  const out = new Uint8Array(first.length + rest.reduce((sum, piece) => sum + piece.length, 0))
  out.set(first)
  let at = first.length
  for (const piece of rest) {
    out.set(piece, at)
    at += piece.length
  }
  return out
}

const FORMATS = {
  OBJ: ({ positions, indices }: Ball) => {
    const lines: string[] = []
    for (let i = 0; i < positions.length; i += 3)
      lines.push(`v ${positions[i].toFixed(6)} ${positions[i + 1].toFixed(6)} ${positions[i + 2].toFixed(6)}`)
    for (let i = 0; i < indices.length; i += 3)
      lines.push(`f ${indices[i] + 1} ${indices[i + 1] + 1} ${indices[i + 2] + 1}`)
    return text(lines)
  },
  'PLY, bytes': ({ positions, indices }: Ball) => {
    const faces = new DataView(new ArrayBuffer((13 * indices.length) / 3))
    for (let i = 0, at = 0; i < indices.length; i += 3, at += 13) {
      faces.setUint8(at, 3)
      for (let k = 0; k < 3; k++) faces.setUint32(at + 1 + 4 * k, indices[i + k], true)
    }
    const head = `ply\nformat binary_little_endian 1.0\nelement vertex ${positions.length / 3}\nproperty float x\nproperty float y\nproperty float z\nelement face ${indices.length / 3}\nproperty list uchar uint vertex_indices\nend_header\n`
    return joined(head, new Uint8Array(positions.buffer), new Uint8Array(faces.buffer))
  },
  'STL, bytes': ({ positions, indices }: Ball) => {
    const view = new DataView(new ArrayBuffer(84 + (50 * indices.length) / 3))
    view.setUint32(80, indices.length / 3, true)
    for (let i = 0, at = 84; i < indices.length; i += 3, at += 50)
      for (let k = 0; k < 3; k++)
        for (let axis = 0; axis < 3; axis++)
          view.setFloat32(at + 12 + 12 * k + 4 * axis, positions[3 * indices[i + k] + axis], true)
    return new Uint8Array(view.buffer)
  },
  GLB: ({ positions, indices }: Ball) => {
    const json = {
      asset: { version: '2.0' },
      scenes: [{ nodes: [0] }],
      scene: 0,
      nodes: [{ mesh: 0 }],
      meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
      buffers: [{ byteLength: positions.byteLength + indices.byteLength }],
      bufferViews: [
        { buffer: 0, byteLength: positions.byteLength },
        { buffer: 0, byteOffset: positions.byteLength, byteLength: indices.byteLength },
      ],
      accessors: [
        {
          bufferView: 0,
          componentType: 5126,
          count: positions.length / 3,
          type: 'VEC3',
          min: [-2, -2, -2],
          max: [2, 2, 2],
        },
        { bufferView: 1, componentType: 5125, count: indices.length, type: 'SCALAR' },
      ],
    }
    let words = JSON.stringify(json)
    words += ' '.repeat((4 - (words.length % 4)) % 4)
    const binary = positions.byteLength + indices.byteLength
    const head = new Uint8Array(
      Uint32Array.of(0x46546c67, 2, 28 + words.length + binary, words.length, 0x4e4f534a).buffer,
    )
    const chunk = new Uint8Array(Uint32Array.of(binary, 0x004e4942).buffer)
    return joined(
      '',
      head,
      new TextEncoder().encode(words),
      chunk,
      new Uint8Array(positions.buffer),
      new Uint8Array(indices.buffer),
    )
  },
} as const
type Format = keyof typeof FORMATS
const ENDINGS: Readonly<Record<Format, string>> = {
  OBJ: 'obj',
  'PLY, bytes': 'ply',
  'STL, bytes': 'stl',
  GLB: 'glb',
}

const buffer = (bytes: Uint8Array): ArrayBuffer => bytes.buffer as ArrayBuffer
const REFERENCES: Readonly<Record<Format, (bytes: Uint8Array) => unknown>> = {
  OBJ: (bytes) => new OBJLoader().parse(new TextDecoder().decode(bytes)),
  'PLY, bytes': (bytes) => {
    const geometry = new PLYLoader().parse(buffer(bytes))
    geometry.computeVertexNormals()
    return geometry
  },
  'STL, bytes': (bytes) => new STLLoader().parse(buffer(bytes)),
  GLB: async (bytes) => {
    const { scene } = await new GLTFLoader().parseAsync(buffer(bytes), '')
    scene.traverse((o) => {
      if ('geometry' in o) (o.geometry as { computeVertexNormals: () => void }).computeVertexNormals()
    })
    return scene
  },
}

/** The ball as a file. */
export const ballFile = (format: Format): { name: string; bytes: Uint8Array } => ({
  name: `ball.${ENDINGS[format]}`,
  bytes: FORMATS[format](ball()),
})

interface Figures {
  readonly megabytes: number
  readonly seconds: number
  readonly reportSeconds: number
  readonly peakMegabytes: number
}

/** One run, in a process of its own; prints its figures. */
export async function one(format: Format, who: 'own' | 'reference'): Promise<void> {
  const bytes = FORMATS[format](ball())
  globalThis.gc?.()
  const before = process.memoryUsage().rss
  const name = `ball.${ENDINGS[format]}`
  let start = performance.now()
  let reportSeconds = 0
  let seconds: number
  let kept: unknown
  if (who === 'reference') {
    kept = await REFERENCES[format](bytes)
    seconds = (performance.now() - start) / 1000
  } else {
    const model = await readModel(new Map([[name, bytes]]), name)
    seconds = (performance.now() - start) / 1000
    if (faceCount(model.mesh) !== 2 * ROWS * COLUMNS) throw new Error(`${format}: polygons are missing`)
    start = performance.now()
    inspectMesh(model.mesh)
    reportSeconds = (performance.now() - start) / 1000
    kept = model
  }
  if (!kept) throw new Error('nothing was read')
  const peakMegabytes = (process.resourceUsage().maxRSS * 1024 - before) / 1e6
  const figures: Figures = { megabytes: bytes.length / 1e6, seconds, reportSeconds, peakMegabytes }
  console.log(JSON.stringify(figures))
}

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

function measured(format: Format, who: 'own' | 'reference'): Figures {
  const run = `import(${JSON.stringify(import.meta.url)}).then((m) => m.one(${JSON.stringify(format)}, ${JSON.stringify(who)}))`
  const result = spawnSync(process.execPath, ['--expose-gc', '--max-old-space-size=8000', '-e', run], {
    encoding: 'utf8',
  })
  if (result.status !== 0) throw new Error(`${format}, ${who}: ${result.stderr}`)
  return JSON.parse(result.stdout) as Figures
}

export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}; ${2 * ROWS * COLUMNS} triangles`)
  for (const format of Object.keys(FORMATS) as Format[]) {
    const runs = { own: [] as Figures[], reference: [] as Figures[] }
    for (let i = 0; i < RUNS; i++)
      for (const who of ['own', 'reference'] as const) runs[who].push(measured(format, who))
    const of = (who: 'own' | 'reference', what: keyof Figures) => median(runs[who].map((r) => r[what]))
    const speed = (who: 'own' | 'reference') => ((2 * ROWS * COLUMNS) / 1e6 / of(who, 'seconds')).toFixed(2)
    console.log(
      `${format}: ${of('own', 'megabytes').toFixed(0)} MB; own ${of('own', 'seconds').toFixed(2)} s (${speed('own')} M triangles/s), ` +
        `peak +${of('own', 'peakMegabytes').toFixed(0)} MB, report ${of('own', 'reportSeconds').toFixed(2)} s; ` +
        `three ${of('reference', 'seconds').toFixed(2)} s (${speed('reference')}), peak +${of('reference', 'peakMegabytes').toFixed(0)} MB`,
    )
  }
  await Promise.resolve()
}
