import type { Vec3 } from '@/core/math/vec3'
import type { Shape } from '../modelling-kit'
import { bevelBox, circle, join, lathe, move, octagonal, tube, turn } from '../modelling-kit'
import type { HarbourPart } from './harbour-part'
import { aroundEight, EAVES, WALL } from './harbour-part'

export function body(): HarbourPart[] {
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

export function door(): HarbourPart[] {
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
