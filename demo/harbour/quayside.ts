import { seededRandom } from '@/core/math/sampling'
import type { Vec3 } from '@/core/math/vec3'
import type { Shape } from '../modelling-kit'
import { bevelBox, curve, join, lathe, move, rope, stone, tube, turn } from '../modelling-kit'
import type { HarbourPart } from './harbour-part'

export function quayside(): HarbourPart[] {
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
  for (let i = 0; i <= 220; i++) {
    const t = i / 220
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
  for (let i = 0; i <= 100; i++) {
    const a = (i / 100) * 2.6 * 2 * Math.PI
    hitch.push([0.148 * Math.cos(a), 0.14 + (i / 100) * 0.13, 0.148 * Math.sin(a)])
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
        stone(60 + i, [s * 1.2, s * 0.7, s], 7),
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
