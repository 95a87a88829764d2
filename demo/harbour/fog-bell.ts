// One file: one model, part after part, as it stands on its rock.
import { seededRandom } from '@/core/math/sampling'
import type { Vec3 } from '@/core/math/vec3'
import { bevelBox, curve, join, lathe, move, rope, stone, tube, turn, type Shape } from '../modelling-kit'
import type { HarbourPart } from './harbour-part'

/*
 * The fog bell of Pell Harbour: a bell buoy drawn up on the slip for the winter, standing on timbers. Metres, +Y up; its ladder
 * looks to +Z.
 */

/** Display colours. */
export const FOG_BELL_MATERIALS: Readonly<Record<string, string>> = {
  'Red lead': '#b5452f',
  'Buoy white': '#efe8d8',
  Steel: '#6c7479',
  'Bell brass': '#c99a45',
  'Lamp glass': '#f2dc9c',
  Chain: '#4b4a4d',
  Oak: '#9b7a55',
  Slip: '#a9a294',
  Hemp: '#c39a62',
  'Sea stone': '#8d8f8c',
  Weed: '#66704a',
}

const around = (count: number, shape: Shape, phaseDeg = 0): Shape =>
  join(...Array.from({ length: count }, (_, i) => turn(shape, 'y', phaseDeg + (360 * i) / count)))

/** Height of the timbers it stands on, of its deck and of the lamp's floor. */
const [STANDS, DECK, LAMP] = [0.42, 1.32, 3.62]
/** Half the side of the tower's foot and of its head. */
const [FOOT, HEAD] = [0.62, 0.3]

/** A point of one of the tower's four legs. */
const onLeg = (leg: number, y: number): Vec3 => {
  const half = FOOT + ((HEAD - FOOT) * (y - DECK)) / (LAMP - DECK)
  const [x, z] = [
    [1, 1],
    [1, -1],
    [-1, -1],
    [-1, 1],
  ][leg % 4]
  return [x * half, y, z * half]
}

function hull(): HarbourPart[] {
  const body = lathe(
    [
      [0.06, STANDS],
      [0.34, STANDS + 0.02],
      [0.46, STANDS + 0.06],
      [0.86, STANDS + 0.26],
      [1.14, STANDS + 0.44],
      [1.2, STANDS + 0.52],
      [1.2, STANDS + 0.58],
    ],
    48,
  )
  const belt = lathe(
    [
      [1.2, STANDS + 0.58],
      [1.235, STANDS + 0.6],
      [1.235, STANDS + 0.7],
      [1.2, STANDS + 0.72],
    ],
    48,
  )
  const shoulder = lathe(
    [
      [1.2, STANDS + 0.72],
      [1.2, STANDS + 0.78],
      [1.15, STANDS + 0.83],
      [0.9, DECK - 0.03],
      [0.88, DECK],
      [0.02, DECK + 0.01],
    ],
    48,
  )
  const rivet = lathe(
    [
      [0.017, 0],
      [0.015, 0.009],
      [0.008, 0.015],
      [0.001, 0.017],
    ],
    8,
  )
  const rivets = around(40, move(turn(rivet, 'z', -90), 1.233, STANDS + 0.65, 0))
  const eye = (deg: number): Shape =>
    turn(
      move(
        tube(
          Array.from({ length: 18 }, (_, i): Vec3 => {
            const a = (i / 18) * 2 * Math.PI
            return [0.1 * Math.cos(a), 0.1 * Math.sin(a), 0]
          }),
          0.026,
          8,
          true,
        ),
        1.08,
        STANDS + 0.96,
        0,
      ),
      'y',
      deg,
    )
  const hatch = move(
    lathe(
      [
        [0.2, 0],
        [0.21, 0.012],
        [0.21, 0.05],
        [0.19, 0.07],
        [0.05, 0.085],
        [0.001, 0.087],
      ],
      28,
    ),
    0,
    DECK,
    0,
  )
  return [
    { name: 'Float', material: 'Red lead', shape: body },
    { name: 'Float belt', material: 'Buoy white', shape: belt },
    { name: 'Belt rivets', material: 'Steel', shape: rivets },
    { name: 'Float deck', material: 'Red lead', shape: shoulder },
    { name: 'Lifting eyes', material: 'Steel', shape: join(eye(35), eye(145), eye(215), eye(325)) },
    { name: 'Deck hatch', material: 'Steel', shape: hatch },
  ]
}

function tower(): HarbourPart[] {
  const legs = join(
    ...[0, 1, 2, 3].map((leg) =>
      tube([onLeg(leg, DECK - 0.02), onLeg(leg, 2.4), onLeg(leg, LAMP)], 0.042, 12),
    ),
  )
  const feet = join(
    ...[0, 1, 2, 3].map((leg) => {
      const [x, , z] = onLeg(leg, DECK)
      return move(bevelBox(0.19, 0.04, 0.19, 0.01), x, DECK - 0.005, z)
    }),
  )
  const rings = join(
    ...[1.9, 3.06].flatMap((y) =>
      [0, 1, 2, 3].map((leg) => tube([onLeg(leg, y), onLeg(leg + 1, y)], 0.026, 8)),
    ),
  )
  const braces = join(
    ...[0, 1, 2, 3].flatMap((leg) => [
      tube([onLeg(leg, DECK + 0.06), onLeg(leg + 1, 1.88)], 0.017, 8),
      tube([onLeg(leg + 1, DECK + 0.06), onLeg(leg, 1.88)], 0.017, 8),
    ]),
  )
  const floor = move(bevelBox(0.84, 0.05, 0.84, 0.014), 0, LAMP, 0)
  const rail = join(
    ...[0, 1, 2, 3].map((side) =>
      turn(
        join(
          tube(
            [
              [-0.38, LAMP + 0.42, 0.38],
              [0.38, LAMP + 0.42, 0.38],
            ],
            0.015,
            8,
          ),
          tube(
            [
              [-0.38, LAMP + 0.24, 0.38],
              [0.38, LAMP + 0.24, 0.38],
            ],
            0.011,
            8,
          ),
          tube(
            [
              [0.38, LAMP + 0.04, 0.38],
              [0.38, LAMP + 0.435, 0.38],
            ],
            0.017,
            8,
          ),
        ),
        'y',
        90 * side,
      ),
    ),
  )
  // Leans on the side of the tower that looks to +Z.
  const rungs: Shape[] = []
  const stile = (x: number): Vec3[] => [
    [x, DECK - 0.02, FOOT + 0.1],
    [x, 2.4, (FOOT + HEAD) / 2 + 0.11],
    [x, LAMP + 0.3, HEAD + 0.12],
  ]
  for (let i = 0; i < 9; i++) {
    const y = DECK + 0.2 + i * 0.26
    const z = FOOT + 0.1 + ((HEAD + 0.02 - FOOT) * (y - DECK)) / (LAMP + 0.3 - DECK)
    rungs.push(
      tube(
        [
          [-0.155, y, z],
          [0.155, y, z],
        ],
        0.013,
        8,
      ),
    )
  }
  const ladder = join(tube(stile(-0.16), 0.02, 8), tube(stile(0.16), 0.02, 8), ...rungs)
  const board = move(turn(bevelBox(0.5, 0.34, 0.025, 0.008), 'x', -7), 0, 2.16, -0.58)
  const marks = join(
    ...[-0.14, 0, 0.14].map((x, i) =>
      move(turn(bevelBox(0.05, i === 1 ? 0.2 : 0.14, 0.014, 0.004), 'x', -7), x, 2.23, -0.597),
    ),
  )
  return [
    { name: 'Tower legs', material: 'Red lead', shape: legs },
    { name: 'Tower feet', material: 'Steel', shape: feet },
    { name: 'Tower rings', material: 'Red lead', shape: rings },
    { name: 'Tower braces', material: 'Steel', shape: braces },
    { name: 'Lamp floor', material: 'Red lead', shape: floor },
    { name: 'Lamp rail', material: 'Buoy white', shape: rail },
    { name: 'Ladder', material: 'Buoy white', shape: ladder },
    { name: 'Number board', material: 'Buoy white', shape: board },
    { name: 'Number', material: 'Chain', shape: marks },
  ]
}

function bell(): HarbourPart[] {
  const top = 2.98
  const body = move(
    lathe(
      [
        [0.43, 0],
        [0.445, 0.012],
        [0.44, 0.035],
        [0.405, 0.085],
        [0.36, 0.17],
        [0.325, 0.28],
        [0.305, 0.4],
        [0.295, 0.48],
        [0.275, 0.54],
        [0.21, 0.585],
        [0.1, 0.605],
        [0.001, 0.61],
      ],
      48,
    ),
    0,
    top - 0.78,
    0,
  )
  const inside = move(
    lathe(
      [
        [0.001, 0.56],
        [0.2, 0.53],
        [0.26, 0.46],
        [0.3, 0.26],
        [0.37, 0.08],
        [0.425, 0.002],
        [0.43, 0],
      ],
      48,
    ),
    0,
    top - 0.78,
    0,
  )
  const band = (y: number, r: number): Shape =>
    move(
      lathe(
        [
          [r, 0],
          [r + 0.012, 0.006],
          [r + 0.012, 0.02],
          [r - 0.002, 0.026],
        ],
        48,
      ),
      0,
      top - 0.78 + y,
      0,
    )
  const hanger = join(
    tube(
      [
        [0, top - 0.19, 0],
        [0, top + 0.06, 0],
      ],
      0.035,
      12,
    ),
    tube([onLeg(0, top + 0.06), [0, top + 0.06, 0], onLeg(2, top + 0.06)], 0.028, 10),
    tube([onLeg(1, top + 0.06), [0, top + 0.06, 0], onLeg(3, top + 0.06)], 0.028, 10),
  )
  const clapper = (deg: number): Shape =>
    turn(
      join(
        tube(
          [
            [0.36, top + 0.06, 0],
            [0.5, top - 0.42, 0],
            [0.54, top - 0.68, 0],
          ],
          0.014,
          8,
        ),
        move(stone(3, [0.062, 0.062, 0.062], 6), 0.535, top - 0.7, 0),
      ),
      'y',
      deg,
    )
  return [
    { name: 'Bell', material: 'Bell brass', shape: join(body, inside) },
    { name: 'Bell bands', material: 'Bell brass', shape: join(band(0.06, 0.425), band(0.42, 0.302)) },
    { name: 'Bell hanger', material: 'Steel', shape: hanger },
    { name: 'Clappers', material: 'Chain', shape: join(clapper(0), clapper(90), clapper(180), clapper(270)) },
  ]
}

function lamp(): HarbourPart[] {
  const base = LAMP + 0.05
  const foot = move(
    lathe(
      [
        [0.24, 0],
        [0.25, 0.015],
        [0.25, 0.06],
        [0.2, 0.085],
        [0.19, 0.13],
      ],
      32,
    ),
    0,
    base,
    0,
  )
  const glass = move(
    lathe(
      [
        [0.175, 0.13],
        [0.19, 0.2],
        [0.195, 0.29],
        [0.19, 0.38],
        [0.175, 0.45],
      ],
      40,
    ),
    0,
    base,
    0,
  )
  const bars = around(
    8,
    tube(
      [
        [0.205, base + 0.12, 0],
        [0.222, base + 0.29, 0],
        [0.205, base + 0.46, 0],
      ],
      0.01,
      8,
    ),
  )
  const cap = move(
    lathe(
      [
        [0.2, 0.44],
        [0.235, 0.455],
        [0.24, 0.475],
        [0.2, 0.52],
        [0.11, 0.575],
        [0.055, 0.6],
        [0.05, 0.66],
        [0.075, 0.68],
        [0.06, 0.715],
        [0.015, 0.74],
        [0.01, 0.86],
        [0.001, 0.865],
      ],
      36,
    ),
    0,
    base,
    0,
  )
  return [
    { name: 'Lamp foot', material: 'Steel', shape: foot },
    { name: 'Lamp glass', material: 'Lamp glass', shape: glass },
    { name: 'Lamp bars', material: 'Steel', shape: bars },
    { name: 'Lamp cap', material: 'Red lead', shape: cap },
  ]
}

/** One link of a chain, long along X. */
const link = (long: number, wide: number, radius: number): Shape => {
  const path: Vec3[] = []
  for (let i = 0; i < 20; i++) {
    const a = (i / 20) * 2 * Math.PI
    path.push([long * Math.cos(a) + Math.sign(Math.cos(a)) * 0.02, 0, wide * Math.sin(a)])
  }
  return tube(path, radius, 7, true)
}

function about(): HarbourPart[] {
  const through: Vec3[] = [
    [0.95, 0.62, 0.75],
    [1.15, 0.3, 1.05],
    [1.3, 0.06, 1.45],
    [1.75, 0.05, 1.7],
    [2.25, 0.05, 1.35],
    [2.2, 0.05, 0.75],
    [1.75, 0.05, 0.7],
    [1.55, 0.06, 1.1],
    [1.95, 0.06, 1.35],
  ]
  const path = curve(through, 18)
  const chain: Shape[] = []
  let last: Vec3 | null = null
  for (let i = 0; i < path.length; i++) {
    const p = path[i]
    if (last && Math.hypot(p[0] - last[0], p[1] - last[1], p[2] - last[2]) < 0.135) continue
    const next = path[Math.min(path.length - 1, i + 2)]
    const yaw = (Math.atan2(-(next[2] - p[2]), next[0] - p[0]) * 180) / Math.PI
    const flat = Math.hypot(next[0] - p[0], next[2] - p[2])
    const pitch = (Math.atan2(next[1] - p[1], flat) * 180) / Math.PI
    const rolled = turn(link(0.075, 0.05, 0.017), 'x', chain.length % 2 ? 78 : 8)
    chain.push(
      move(turn(turn(rolled, 'z', pitch), 'y', yaw), p[0], p[1] + (chain.length % 2 ? 0.012 : 0), p[2]),
    )
    last = p
  }
  const timber = (x: number, z: number, deg: number, long: number): Shape =>
    move(turn(bevelBox(long, 0.21, 0.24, 0.016), 'y', deg), x, 0, z)
  const timbers = join(
    timber(0, 0.34, 0, 2.1),
    timber(0, -0.36, 3, 2.2),
    move(timber(0.3, 0, 92, 1.6), 0, 0.21, 0),
    move(timber(-0.32, 0.02, 88, 1.5), 0, 0.21, 0),
  )
  const wedge = (deg: number): Shape =>
    turn(move(turn(bevelBox(0.34, 0.12, 0.16, 0.01), 'z', 24), 0.62, 0.42, 0), 'y', deg)
  const wedges = join(wedge(28), wedge(152), wedge(208), wedge(332))
  const planks: Shape[] = []
  for (let i = 0; i < 84; i++) planks.push(move(bevelBox(110, 0.07, 0.62, 0.014), 0, -0.07, -47 + i * 0.65))
  const random = seededRandom(11)
  const stones = join(
    ...Array.from({ length: 9 }, (_, i) => {
      const a = 2.2 + random() * 2.4
      const r = 1.7 + random() * 0.9
      const s = 0.06 + random() * 0.11
      return move(stone(20 + i, [s, 0.7 * s, 0.85 * s]), r * Math.cos(a), 0.55 * s, -r * Math.sin(a))
    }),
  )
  const weeds = around(
    15,
    move(
      turn(
        tube(
          curve(
            [
              [0, 0, 0],
              [0.05, -0.1, 0.02],
              [0.03, -0.22, -0.02],
              [0.06, -0.3, 0.01],
            ],
            5,
          ),
          (t) => 0.022 * (1 - t) + 0.003,
          6,
        ),
        'z',
        28,
      ),
      1.05,
      STANDS + 0.4,
      0,
    ),
    7,
  )
  const coil: Vec3[] = []
  for (let i = 0; i <= 180; i++) {
    const a = (i / 180) * 4.4 * 2 * Math.PI
    const r = 0.33 - 0.03 * (i / 180) * 4
    coil.push([-1.62 + r * Math.cos(a), 0.04 + 0.055 * Math.floor((i / 180) * 2), 1.42 + r * Math.sin(a)])
  }
  const bucket = move(
    lathe(
      [
        [0.12, 0],
        [0.135, 0.01],
        [0.18, 0.28],
        [0.19, 0.29],
        [0.19, 0.305],
        [0.17, 0.305],
        [0.125, 0.03],
        [0.001, 0.028],
      ],
      28,
    ),
    -1.12,
    0,
    1.86,
  )
  return [
    { name: 'Mooring chain', material: 'Chain', shape: join(...chain) },
    { name: 'Timbers', material: 'Oak', shape: timbers },
    { name: 'Wedges', material: 'Oak', shape: wedges },
    { name: 'Weed', material: 'Weed', shape: weeds },
    { name: 'Sea stones', material: 'Sea stone', shape: stones },
    { name: 'Coil of rope', material: 'Hemp', shape: rope(coil, 0.032, 0.11) },
    { name: 'Paint bucket', material: 'Steel', shape: bucket },
    { name: 'Slip', material: 'Slip', shape: join(...planks) },
  ]
}

/** Every part of the buoy and of what lies about it, in the order of the file; the slip is its ground. */
export const fogBell = (): HarbourPart[] => [...hull(), ...tower(), ...bell(), ...lamp(), ...about()]
