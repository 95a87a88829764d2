import { seededRandom } from '@/core/math/sampling'
import type { Vec3 } from '@/core/math/vec3'
import type { Shape } from './modelling-kit'
import {
  bevelBox,
  circle,
  curve,
  join,
  lathe,
  loft,
  mapPoints,
  move,
  octagonal,
  quadBall,
  rope,
  stone,
  strip,
  tube,
  turn,
} from './modelling-kit'

/**
 * Pell Harbour: a stone quay at low water with its tide kiosk. An invented place. Metres, +Y up; the kiosk's door
 * looks to +Z, the water lies beyond −X and in front.
 */
export interface HarbourPart {
  readonly name: string
  readonly material: string
  readonly shape: Shape
}

/** Display colours. */
export const HARBOUR_MATERIALS: Readonly<Record<string, string>> = {
  'Quay stone': '#b3a48d',
  'Dressed stone': '#d9ccb4',
  'Painted timber': '#e9dcc0',
  'Trim paint': '#54747a',
  'Door oak': '#8c4a2f',
  Copper: '#6fa08c',
  Brass: '#d3a54a',
  Iron: '#47474b',
  'Lantern glass': '#f3d68b',
  Enamel: '#f6efdd',
  Hemp: '#c39a62',
  'Sea stone': '#8d8f8c',
  'Gull white': '#f3f0e8',
  'Gull grey': '#8f9aa3',
  Bill: '#e0962f',
  Water: '#7ba3a6',
}

/** A copy for each of the eight sides. */
const aroundEight = (shape: Shape, which: readonly number[] = [0, 1, 2, 3, 4, 5, 6, 7]): Shape =>
  join(...which.map((k) => turn(shape, 'y', 45 * k)))

const WALL = 1.0
const EAVES = 2.62
/** Roof outline: apothem and height, bell-cast. */
const ROOF: [number, number][] = [
  [1.38, 2.66],
  [1.3, 2.715],
  [1.16, 2.83],
  [1.0, 2.99],
  [0.84, 3.18],
  [0.69, 3.39],
  [0.56, 3.58],
  [0.47, 3.72],
]

function paving(): HarbourPart[] {
  const random = seededRandom(11)
  const rows: Shape[] = []
  const kerb: Shape[] = []
  for (let row = 0; row < 8; row++) {
    const z = -2.45 + row * 0.7
    let x = -2.6
    while (x < 3.35) {
      const width = Math.min(0.62 + random() * 0.5, 3.45 - x)
      if (width < 0.3) break
      const height = 0.2 + random() * 0.014
      rows.push(move(bevelBox(width - 0.018, height, 0.682, 0.016), x + width / 2, -0.2, z))
      x += width
    }
  }
  for (let i = 0; i < 6; i++) {
    const z = -2.33 + i * 0.94
    kerb.push(move(bevelBox(0.46, 0.3, 0.925, 0.028), -2.86, -0.23, z))
  }
  for (let i = 0; i < 7; i++) {
    const x = -2.62 + i * 0.93
    kerb.push(move(bevelBox(0.915, 0.3, 0.46, 0.028), x + 0.02, -0.23, 3.04))
  }
  const wall: Shape[] = []
  for (let course = 0; course < 4; course++) {
    const shift = course % 2 ? 0.45 : 0
    for (let i = -1; i < 8; i++) {
      const low = -2.98 + i * 0.93 + shift
      const start = Math.max(low, -2.98)
      const end = Math.min(low + 0.915, 3.5)
      if (end - start > 0.1) {
        wall.push(
          move(
            bevelBox(end - start, 0.385, 0.4, 0.03),
            (start + end) / 2,
            -0.64 - course * 0.4,
            2.98 + random() * 0.02,
          ),
        )
      }
    }
    for (let i = -1; i < 6; i++) {
      const low = -2.6 + i * 0.94 + shift
      const start = Math.max(low, -2.6)
      const end = Math.min(low + 0.925, 2.78)
      if (end - start > 0.1) {
        wall.push(
          move(
            bevelBox(0.4, 0.385, end - start, 0.03),
            -2.8 - random() * 0.02,
            -0.64 - course * 0.4,
            (start + end) / 2,
          ),
        )
      }
    }
  }
  return [
    { name: 'Quay paving', material: 'Quay stone', shape: join(...rows) },
    { name: 'Quay kerb', material: 'Dressed stone', shape: join(...kerb) },
    { name: 'Quay wall', material: 'Quay stone', shape: join(...wall) },
    {
      name: 'Quay core',
      material: 'Quay stone',
      shape: move(bevelBox(6.0, 1.7, 5.3, 0.01), 0.28, -1.92, 0.2),
    },
  ]
}

function water(): HarbourPart {
  const cells = 72
  const points: Vec3[] = []
  const faces: number[][] = []
  for (let j = 0; j <= cells; j++) {
    for (let i = 0; i <= cells; i++) {
      // Fine near the quay, coarse towards the horizon; the ripple fades with distance.
      const spread = (share: number) =>
        Math.sign(share) * (14 * Math.abs(share) + 2400 * Math.abs(share) ** 7)
      const x = spread((2 * i) / cells - 1)
      const z = spread((2 * j) / cells - 1)
      const calm = 1 / (1 + ((x * x + z * z) / 400) ** 2)
      const y =
        -1.62 +
        calm *
          (0.022 * Math.sin(1.7 * x + 0.6 * z) +
            0.016 * Math.sin(-0.8 * x + 2.1 * z + 1) +
            0.01 * Math.sin(3.1 * x + 2.3 * z))
      points.push([x, y, z])
    }
  }
  for (let j = 0; j < cells; j++) {
    for (let i = 0; i < cells; i++) {
      const a = j * (cells + 1) + i
      faces.push([a, a + cells + 1, a + cells + 2, a + 1])
    }
  }
  return { name: 'Low water', material: 'Water', shape: { points, faces } }
}

function body(): HarbourPart[] {
  const side = 2 * WALL * Math.tan(Math.PI / 8)
  const panel = (w: number, h: number): Shape => {
    const frame = [
      move(bevelBox(w, 0.07, 0.05, 0.008), 0, 0, 0),
      move(bevelBox(w, 0.07, 0.05, 0.008), 0, h - 0.07, 0),
      move(bevelBox(0.07, h - 0.14, 0.05, 0.008), -(w - 0.07) / 2, 0.07, 0),
      move(bevelBox(0.07, h - 0.14, 0.05, 0.008), (w - 0.07) / 2, 0.07, 0),
    ]
    return join(...frame)
  }
  const boards = (w: number, h: number): Shape => {
    const count = 5
    return join(
      ...Array.from({ length: count }, (_, i) =>
        move(bevelBox(w / count - 0.006, h, 0.03, 0.008), -w / 2 + (w / count) * (i + 0.5), 0, 0),
      ),
    )
  }
  const atFace = (shape: Shape, y: number, outward: number) => move(shape, 0, y, WALL + outward)
  const upper = panel(side - 0.13, 0.74)
  const lower = panel(side - 0.13, 0.92)
  // The door takes side 0 (towards +Z), the gauge side 7.
  const panelled = [1, 2, 3, 4, 5, 6, 7]
  const post = octagonal(
    [
      [0.062, 0.42],
      [0.062, 0.5],
      [0.048, 0.53],
      [0.048, 2.36],
      [0.062, 2.4],
      [0.062, 2.5],
    ],
    0.01,
  )
  const cornerRadius = (WALL - 0.005) / Math.cos(Math.PI / 8)
  const posts = join(...circle(cornerRadius, 0, 8, 0.5).map(([x, , z]) => move(post, x, 0, z)))
  const dentil = atFace(bevelBox(0.055, 0.07, 0.08, 0.008), 2.44, 0.045)
  const dentils = join(...[-3, -2, -1, 0, 1, 2, 3].map((i) => move(dentil, i * 0.108, 0, 0)))
  return [
    {
      name: 'Plinth step',
      material: 'Dressed stone',
      shape: octagonal(
        [
          [1.5, 0.0],
          [1.52, 0.02],
          [1.52, 0.13],
          [1.5, 0.15],
          [1.2, 0.155],
        ],
        0.02,
      ),
    },
    {
      name: 'Plinth',
      material: 'Dressed stone',
      shape: octagonal(
        [
          [1.22, 0.14],
          [1.24, 0.16],
          [1.24, 0.34],
          [1.22, 0.36],
          [1.14, 0.4],
          [1.1, 0.43],
          [1.02, 0.435],
        ],
        0.02,
      ),
    },
    {
      name: 'Kiosk wall',
      material: 'Painted timber',
      shape: octagonal(
        [
          [WALL - 0.02, 0.4],
          [WALL - 0.02, 2.5],
        ],
        0.01,
      ),
    },
    {
      name: 'Wall boards',
      material: 'Painted timber',
      shape: aroundEight(atFace(boards(side - 0.2, 0.84), 0.5, -0.012), panelled),
    },
    {
      name: 'Lower panel frames',
      material: 'Trim paint',
      shape: aroundEight(atFace(lower, 0.46, 0.0), panelled),
    },
    {
      name: 'Upper panel frames',
      material: 'Trim paint',
      shape: aroundEight(atFace(upper, 1.62, 0.0), [1, 2, 3, 4, 5, 6, 0]),
    },
    { name: 'Corner posts', material: 'Trim paint', shape: posts },
    {
      name: 'Belt course',
      material: 'Trim paint',
      shape: octagonal(
        [
          [1.0, 1.42],
          [1.055, 1.43],
          [1.07, 1.45],
          [1.07, 1.5],
          [1.05, 1.52],
          [1.0, 1.53],
        ],
        0.012,
      ),
    },
    {
      name: 'Cornice',
      material: 'Painted timber',
      shape: octagonal(
        [
          [1.0, 2.4],
          [1.04, 2.41],
          [1.05, 2.43],
          [1.05, 2.5],
          [1.1, 2.52],
          [1.16, 2.56],
          [1.24, 2.58],
          [1.27, 2.6],
          [1.27, EAVES],
          [1.0, EAVES + 0.02],
        ],
        0.014,
      ),
    },
    { name: 'Dentils', material: 'Painted timber', shape: aroundEight(dentils) },
  ]
}

function door(): HarbourPart[] {
  const leaf: Shape[] = []
  for (let i = 0; i < 4; i++)
    leaf.push(move(bevelBox(0.128, 0.94, 0.05, 0.01), -0.2 + i * 0.133, 0.46, WALL + 0.0))
  const rivet = turn(
    lathe(
      [
        [0.016, 0],
        [0.016, 0.004],
        [0.012, 0.01],
        [0.006, 0.013],
        [0.001, 0.014],
      ],
      12,
    ),
    'x',
    90,
  )
  const rivets: Shape[] = []
  const straps: Shape[] = []
  for (const y of [0.62, 1.22]) {
    straps.push(move(bevelBox(0.5, 0.055, 0.016, 0.005), 0, y, WALL + 0.03))
    for (let i = 0; i < 5; i++) rivets.push(move(rivet, -0.2 + i * 0.1, y + 0.027, WALL + 0.038))
  }
  for (let i = 0; i < 7; i++) {
    rivets.push(
      move(rivet, -0.245, 0.53 + i * 0.135, WALL + 0.025),
      move(rivet, 0.245, 0.53 + i * 0.135, WALL + 0.025),
    )
  }
  const ring = tube(
    Array.from({ length: 28 }, (_, i): Vec3 => {
      const a = (i / 28) * 2 * Math.PI
      return [0.17 + 0.038 * Math.cos(a), 0.9 + 0.038 * Math.sin(a), WALL + 0.046]
    }),
    0.0075,
    8,
    true,
  )
  const frame = [
    move(bevelBox(0.075, 1.0, 0.09, 0.012), -0.325, 0.43, WALL + 0.01),
    move(bevelBox(0.075, 1.0, 0.09, 0.012), 0.325, 0.43, WALL + 0.01),
    move(bevelBox(0.76, 0.075, 0.1, 0.014), 0, 1.4, WALL + 0.015),
  ]
  return [
    { name: 'Door leaf', material: 'Door oak', shape: join(...leaf) },
    { name: 'Door frame', material: 'Trim paint', shape: join(...frame) },
    { name: 'Door straps', material: 'Iron', shape: join(...straps) },
    { name: 'Door rivets', material: 'Brass', shape: join(...rivets) },
    { name: 'Door ring', material: 'Brass', shape: join(ring, move(rivet, 0.17, 0.942, WALL + 0.03)) },
    {
      name: 'Door sill',
      material: 'Dressed stone',
      shape: move(bevelBox(0.82, 0.1, 0.3, 0.02), 0, 0.36, WALL + 0.14),
    },
  ]
}

function gauge(): HarbourPart[] {
  const onFace = (shape: Shape) => turn(move(shape, 0, 1.99, WALL + 0.02), 'y', -45)
  const flat = (shape: Shape) => turn(shape, 'x', 90)
  const marks = Array.from({ length: 24 }, (_, i) => {
    const long = i % 6 === 0
    const mark = move(
      bevelBox(long ? 0.014 : 0.008, long ? 0.05 : 0.03, 0.008, 0.002),
      0,
      long ? 0.19 : 0.205,
      0.034,
    )
    return turn(mark, 'z', i * 15)
  })
  const hand = (lengthM: number, width: number, deg: number, z: number) =>
    turn(
      move(
        loft(
          [
            [
              [width, 0, 0],
              [width, 0, 0.01],
              [-width, 0, 0.01],
              [-width, 0, 0],
            ].map(([x, , q]): Vec3 => [x, -0.04, -q]),
            [
              [width, 0, 0],
              [width, 0, 0.01],
              [-width, 0, 0.01],
              [-width, 0, 0],
            ].map(([x, , q]): Vec3 => [x * 1.2, lengthM * 0.6, -q]),
            [
              [width, 0, 0],
              [width, 0, 0.01],
              [-width, 0, 0.01],
              [-width, 0, 0],
            ].map(([x, , q]): Vec3 => [x * 0.12, lengthM, -q]),
          ].map((ring) => ring.slice().reverse()),
        ),
        0,
        0,
        z,
      ),
      'z',
      deg,
    )
  const bezel = flat(
    lathe(
      [
        [0.262, -0.03],
        [0.3, -0.02],
        [0.312, 0.0],
        [0.312, 0.03],
        [0.3, 0.05],
        [0.282, 0.056],
        [0.268, 0.05],
        [0.262, 0.03],
      ],
      48,
    ),
  )
  return [
    { name: 'Gauge bezel', material: 'Brass', shape: onFace(bezel) },
    {
      name: 'Gauge dial',
      material: 'Enamel',
      shape: onFace(
        flat(
          lathe(
            [
              [0.27, -0.02],
              [0.27, 0.028],
              [0.1, 0.032],
              [0.001, 0.033],
            ],
            48,
          ),
        ),
      ),
    },
    { name: 'Gauge marks', material: 'Iron', shape: onFace(join(...marks)) },
    {
      name: 'Gauge hands',
      material: 'Door oak',
      shape: onFace(join(hand(0.2, 0.014, -52, 0.048), hand(0.14, 0.018, 118, 0.056))),
    },
    {
      name: 'Gauge hub',
      material: 'Brass',
      shape: onFace(
        flat(
          lathe(
            [
              [0.032, 0.03],
              [0.032, 0.062],
              [0.024, 0.072],
              [0.001, 0.076],
            ],
            24,
          ),
        ),
      ),
    },
    {
      name: 'Gauge pipe',
      material: 'Brass',
      shape: turn(
        tube(
          curve(
            [
              [0, 1.7, WALL + 0.06],
              [0, 1.5, WALL + 0.13],
              [0, 1.2, WALL + 0.13],
              [0, 0.7, WALL + 0.13],
              [0, 0.46, WALL + 0.16],
              [0, 0.38, WALL + 0.3],
            ],
            8,
          ),
          0.024,
          12,
        ),
        'y',
        -45,
      ),
    },
  ]
}

function roof(): HarbourPart[] {
  const seams: Shape[] = []
  const ridges: Shape[] = []
  const outAt = (i: number): Vec3 => {
    const [a0, y0] = ROOF[Math.max(0, i - 1)]
    const [a1, y1] = ROOF[Math.min(ROOF.length - 1, i + 1)]
    return [0, a0 - a1, y1 - y0]
  }
  for (const share of [-0.5, 0, 0.5]) {
    const path = ROOF.map(([a, y]): Vec3 => [share * a * Math.tan(Math.PI / 8), y, a])
    const outs = ROOF.map((_, i) => outAt(i))
    seams.push(strip(path, outs, 0.02, 0.026))
  }
  const ridgePath = ROOF.map(([a, y]): Vec3 => [0, y, a / Math.cos(Math.PI / 8)])
  ridges.push(
    turn(
      strip(
        ridgePath,
        ROOF.map((_, i) => outAt(i)),
        0.05,
        0.034,
      ),
      'y',
      22.5,
    ),
  )
  const shell: [number, number][] = [[1.2, EAVES + 0.005], [1.38, 2.63], ...ROOF, [0.3, 3.73]]
  const gutter: [number, number][] = [
    [1.36, 2.6],
    [1.4, 2.59],
    [1.45, 2.61],
    [1.465, 2.66],
    [1.45, 2.665],
    [1.425, 2.63],
    [1.37, 2.63],
  ]
  return [
    { name: 'Roof', material: 'Copper', shape: octagonal(shell, 0.01) },
    { name: 'Roof seams', material: 'Copper', shape: aroundEight(join(...seams)) },
    { name: 'Roof ridges', material: 'Copper', shape: aroundEight(join(...ridges)) },
    { name: 'Gutter', material: 'Iron', shape: octagonal(gutter, 0.014) },
  ]
}

function lantern(): HarbourPart[] {
  const post = octagonal(
    [
      [0.034, 3.82],
      [0.034, 3.86],
      [0.026, 3.88],
      [0.026, 4.2],
      [0.034, 4.22],
      [0.034, 4.28],
    ],
    0.006,
  )
  const radius = 0.38 / Math.cos(Math.PI / 8)
  const posts = circle(radius, 0, 8, 0.5).map(([x, , z]) => move(post, x, 0, z))
  const bar = move(bevelBox(0.3, 0.016, 0.016, 0.003), 0, 4.06, 0.366)
  const vane = join(
    move(bevelBox(0.5, 0.014, 0.014, 0.004), 0, 5.06, 0),
    move(
      turn(
        loft([
          [
            [0.07, 0, 0.006],
            [0.07, 0, -0.006],
            [-0.07, 0, -0.006],
            [-0.07, 0, 0.006],
          ],
          [
            [0.002, 0.13, 0.004],
            [0.002, 0.13, -0.004],
            [-0.002, 0.13, -0.004],
            [-0.002, 0.13, 0.004],
          ],
        ]),
        'z',
        -90,
      ),
      0.22,
      5.067,
      0,
    ),
    move(bevelBox(0.13, 0.11, 0.012, 0.004), -0.22, 5.012, 0),
  )
  return [
    {
      name: 'Lantern sill',
      material: 'Trim paint',
      shape: octagonal(
        [
          [0.4, 3.7],
          [0.47, 3.71],
          [0.485, 3.73],
          [0.485, 3.78],
          [0.47, 3.8],
          [0.42, 3.83],
          [0.2, 3.84],
        ],
        0.01,
      ),
    },
    { name: 'Lantern posts', material: 'Trim paint', shape: join(...posts) },
    {
      name: 'Lantern glass',
      material: 'Lantern glass',
      shape: octagonal(
        [
          [0.36, 3.82],
          [0.36, 4.27],
        ],
        0.004,
      ),
    },
    { name: 'Lantern bars', material: 'Trim paint', shape: aroundEight(bar) },
    {
      name: 'Lantern cornice',
      material: 'Trim paint',
      shape: octagonal(
        [
          [0.34, 4.24],
          [0.42, 4.25],
          [0.43, 4.28],
          [0.47, 4.31],
          [0.49, 4.33],
          [0.49, 4.36],
          [0.3, 4.37],
        ],
        0.008,
      ),
    },
    {
      name: 'Lantern cap',
      material: 'Copper',
      shape: octagonal(
        [
          [0.5, 4.34],
          [0.53, 4.35],
          [0.53, 4.375],
          [0.44, 4.43],
          [0.33, 4.52],
          [0.22, 4.62],
          [0.13, 4.7],
          [0.08, 4.745],
          [0.05, 4.76],
        ],
        0.012,
      ),
    },
    {
      name: 'Finial',
      material: 'Brass',
      shape: lathe(
        [
          [0.05, 4.73],
          [0.06, 4.76],
          [0.04, 4.79],
          [0.035, 4.82],
          [0.06, 4.835],
          [0.085, 4.87],
          [0.09, 4.9],
          [0.082, 4.935],
          [0.055, 4.965],
          [0.024, 4.98],
          [0.016, 5.02],
          [0.012, 5.2],
          [0.001, 5.22],
        ],
        28,
      ),
    },
    { name: 'Wind vane', material: 'Brass', shape: turn(vane, 'y', 28) },
  ]
}

function quayside(): HarbourPart[] {
  const bollard = lathe(
    [
      [0.2, 0],
      [0.21, 0.015],
      [0.21, 0.04],
      [0.17, 0.06],
      [0.135, 0.1],
      [0.115, 0.17],
      [0.112, 0.27],
      [0.125, 0.33],
      [0.165, 0.37],
      [0.185, 0.4],
      [0.185, 0.43],
      [0.16, 0.465],
      [0.1, 0.49],
      [0.02, 0.497],
    ],
    36,
  )
  const bolts = join(
    ...Array.from({ length: 6 }, (_, i) =>
      turn(
        move(
          lathe(
            [
              [0.018, 0.03],
              [0.018, 0.058],
              [0.01, 0.064],
            ],
            6,
          ),
          0.188,
          0,
          0,
        ),
        'y',
        i * 60,
      ),
    ),
  )
  const post = lathe(
    [
      [0.07, 0.06],
      [0.075, 0.075],
      [0.07, 0.1],
      [0.034, 0.12],
      [0.03, 0.15],
      [0.028, 0.78],
      [0.036, 0.8],
      [0.05, 0.83],
      [0.055, 0.86],
      [0.048, 0.895],
      [0.02, 0.915],
      [0.002, 0.918],
    ],
    20,
  )
  const railPosts: Shape[] = []
  const rails: Shape[] = []
  for (let i = 0; i < 5; i++) railPosts.push(move(post, -2.86, 0, -2.2 + i * 1.05))
  for (const y of [0.42, 0.74])
    rails.push(
      tube(
        [
          [-2.86, y, -2.3],
          [-2.86, y, -0.7],
          [-2.86, y, 0.4],
          [-2.86, y, 2.1],
        ],
        0.019,
        10,
      ),
    )
  // A coil of rope: six turns laid up in two tiers, its end trailing off.
  const coil: Vec3[] = []
  const turns = 5.6
  for (let i = 0; i <= 300; i++) {
    const t = i / 300
    const a = t * turns * 2 * Math.PI
    const tier = t < 0.62 ? 0 : 1
    const radius =
      tier === 0 ? 0.36 - 0.05 * ((t / 0.62) * 3.4) * 0.72 : 0.26 + 0.06 * Math.sin((t - 0.62) * 7)
    coil.push([
      radius * Math.cos(a),
      0.036 + tier * 0.062 * Math.min(1, (t - 0.62) * 14),
      radius * Math.sin(a),
    ])
  }
  const tail = curve(
    [coil[0], [0.39, 0.036, -0.12], [0.5, 0.036, -0.34], [0.72, 0.036, -0.3], [0.86, 0.036, -0.48]],
    14,
  )
  const hitch: Vec3[] = []
  for (let i = 0; i <= 120; i++) {
    const a = (i / 120) * 2.6 * 2 * Math.PI
    hitch.push([0.148 * Math.cos(a), 0.14 + (i / 120) * 0.13, 0.148 * Math.sin(a)])
  }
  const slack = curve(
    [hitch[0], [0.3, 0.06, 0.16], [0.5, 0.035, 0.32], [0.66, 0.035, 0.2], [0.92, 0.035, 0.34]],
    14,
  )
  const staff = move(bevelBox(0.13, 3.1, 0.05, 0.008), 2.95, -1.75, 3.29)
  const staffMarks = join(
    ...Array.from({ length: 14 }, (_, i) =>
      move(
        bevelBox(i % 2 ? 0.05 : 0.1, 0.1, 0.012, 0.003),
        2.95 - (i % 2 ? 0.025 : 0),
        -1.55 + i * 0.2,
        3.318,
      ),
    ),
  )
  const bucket = lathe(
    [
      [0.1, 0.02],
      [0.112, 0.01],
      [0.12, 0.02],
      [0.165, 0.28],
      [0.174, 0.285],
      [0.174, 0.3],
      [0.158, 0.3],
      [0.115, 0.05],
      [0.02, 0.045],
    ],
    32,
  )
  const bail = tube(
    Array.from({ length: 17 }, (_, i): Vec3 => {
      const a = Math.PI * (i / 16)
      return [0.17 * Math.cos(a), 0.27 + 0.05 * Math.sin(a), 0.16 * Math.sin(a)]
    }),
    0.007,
    8,
  )
  const slats = join(
    ...[0, 1, 2].flatMap((i) => [
      move(bevelBox(0.62, 0.115, 0.024, 0.007), 0, 0.03 + i * 0.135, 0.21),
      move(bevelBox(0.62, 0.115, 0.024, 0.007), 0, 0.03 + i * 0.135, -0.21),
      move(bevelBox(0.024, 0.115, 0.4, 0.007), 0.3, 0.03 + i * 0.135, 0),
      move(bevelBox(0.024, 0.115, 0.4, 0.007), -0.3, 0.03 + i * 0.135, 0),
    ]),
    ...[-1, 1].flatMap((x) =>
      [-1, 1].map((z) => move(bevelBox(0.045, 0.44, 0.045, 0.008), x * 0.275, 0, z * 0.175)),
    ),
    ...[-2, -1, 0, 1, 2].map((i) => move(bevelBox(0.115, 0.022, 0.46, 0.006), i * 0.126, 0.425, 0)),
  )
  const stones = join(
    move(stone(3, [0.22, 0.14, 0.18]), 1.78, 0.09, 1.72),
    move(stone(5, [0.13, 0.09, 0.12]), 2.06, 0.06, 1.92),
    move(stone(8, [0.1, 0.065, 0.09]), 1.62, 0.04, 2.04),
    move(stone(9, [0.07, 0.045, 0.06], 6), 1.92, 0.03, 2.16),
  )
  const shore = join(
    ...Array.from({ length: 11 }, (_, i) => {
      const random = seededRandom(40 + i)
      const s = 0.16 + random() * 0.26
      return move(
        stone(60 + i, [s * 1.2, s * 0.7, s], 8),
        -2.6 + i * 0.56 + random() * 0.2,
        -1.62 + s * 0.12,
        3.5 + random() * 0.42,
      )
    }),
  )
  return [
    { name: 'Bollard', material: 'Iron', shape: move(bollard, -1.72, 0.005, 2.28) },
    { name: 'Bollard bolts', material: 'Iron', shape: move(bolts, -1.72, 0.005, 2.28) },
    {
      name: 'Mooring rope',
      material: 'Hemp',
      shape: move(rope([...hitch.slice().reverse(), ...slack.slice(1)], 0.03, 0.2), -1.72, 0.005, 2.28),
    },
    { name: 'Second bollard', material: 'Iron', shape: move(bollard, 2.35, 0.005, 2.42) },
    {
      name: 'Rope coil',
      material: 'Hemp',
      shape: move(rope([...tail.slice().reverse(), ...coil.slice(1)], 0.033, 0.22), 0.62, 0.005, 2.25),
    },
    { name: 'Railing posts', material: 'Iron', shape: join(...railPosts) },
    { name: 'Rails', material: 'Iron', shape: join(...rails) },
    { name: 'Tide staff', material: 'Enamel', shape: staff },
    { name: 'Tide staff marks', material: 'Door oak', shape: staffMarks },
    { name: 'Bucket', material: 'Iron', shape: move(bucket, 1.55, 0.006, 1.3) },
    { name: 'Bucket bail', material: 'Brass', shape: move(bail, 1.55, 0.006, 1.3) },
    { name: 'Fish crate', material: 'Door oak', shape: move(turn(slats, 'y', 24), 2.25, 0.006, 0.75) },
    { name: 'Sea-worn stones', material: 'Sea stone', shape: stones },
    { name: 'Shore stones', material: 'Sea stone', shape: shore },
  ]
}

function gull(): HarbourPart[] {
  const ball = (x: number, y: number, z: number, rx: number, ry: number, rz: number, cuts = 10): Shape =>
    move(
      mapPoints(quadBall(cuts), (p) => [p[0] * rx, p[1] * ry, p[2] * rz]),
      x,
      y,
      z,
    )
  // Body: a spindle lying along X, head up at +X.
  const spine = curve(
    [
      [-0.3, 0.1, 0],
      [-0.18, 0.125, 0],
      [0, 0.15, 0],
      [0.13, 0.19, 0],
      [0.19, 0.27, 0],
      [0.215, 0.335, 0],
    ],
    6,
  )
  const girth = (t: number): number =>
    0.012 +
    0.088 *
      Math.pow(Math.sin(Math.PI * Math.min(1, Math.pow(t, 0.85) * 0.86 + 0.04)), 0.9) *
      (t > 0.62 ? 1 - (t - 0.62) * 0.75 : 1)
  const bodyShape = tube(spine, girth, 20)
  const wing = (side: number): Shape => {
    const path = curve(
      [
        [0.13, 0.2, side * 0.07],
        [0.02, 0.2, side * 0.1],
        [-0.14, 0.165, side * 0.085],
        [-0.3, 0.115, side * 0.045],
        [-0.38, 0.1, side * 0.02],
      ],
      6,
    )
    return mapPoints(
      tube(path, (t) => 0.008 + 0.058 * Math.sin(Math.PI * Math.min(1, t * 0.9 + 0.08)), 14),
      ([x, y, z]) => [x, y, side * 0.085 + (z - side * 0.085) * 0.55],
    )
  }
  const leg = (side: number): Shape =>
    join(
      tube(
        [
          [0.0, 0.1, side * 0.035],
          [0.005, 0.05, side * 0.037],
          [0.01, 0.006, side * 0.038],
        ],
        0.0065,
        8,
      ),
      ...[-24, 0, 24].map((deg) =>
        move(
          turn(
            tube(
              [
                [0, 0, 0],
                [0.03, 0.001, 0],
                [0.055, 0, 0],
              ],
              0.005,
              8,
            ),
            'y',
            deg,
          ),
          0.01,
          0.005,
          side * 0.038,
        ),
      ),
    )
  const bill = tube(
    curve(
      [
        [0.262, 0.352, 0],
        [0.3, 0.35, 0],
        [0.335, 0.344, 0],
        [0.345, 0.33, 0],
      ],
      4,
    ),
    (t) => 0.017 * (1 - t * 0.75),
    10,
  )
  const place = (shape: Shape) => move(turn(shape, 'y', 168), 2.35, 0.502, 2.42)
  return [
    {
      name: 'Gull body',
      material: 'Gull white',
      shape: place(join(bodyShape, ball(0.225, 0.352, 0, 0.056, 0.05, 0.047))),
    },
    { name: 'Gull wings', material: 'Gull grey', shape: place(join(wing(1), wing(-1))) },
    { name: 'Gull bill', material: 'Bill', shape: place(bill) },
    { name: 'Gull legs', material: 'Bill', shape: place(join(leg(1), leg(-1))) },
    {
      name: 'Gull eyes',
      material: 'Iron',
      shape: place(
        join(
          ball(0.25, 0.365, 0.038, 0.009, 0.009, 0.007, 4),
          ball(0.25, 0.365, -0.038, 0.009, 0.009, 0.007, 4),
        ),
      ),
    },
  ]
}

/** Every part, in the order of the file. */
export const pellHarbour = (): HarbourPart[] => [
  ...paving(),
  water(),
  ...body(),
  ...door(),
  ...gauge(),
  ...roof(),
  ...lantern(),
  ...quayside(),
  ...gull(),
]
