import type { Vec3 } from '@/core/math/vec3'
import { add, scale } from '@/core/math/vec3'
import { seededRandom } from '@/core/math/sampling'
import type { Shape } from '../modelling-kit'
import { bevelBox, curve, join, lathe, mapPoints, move, rope, tube, turn } from '../modelling-kit'
import { dinghy } from './dinghy'
import type { HarbourPart } from './harbour-part'

/** Height of the water, metres below the quay's paving. */
const WATER = -1.62

/** Still water with a slow swell that the horizon swallows. */
function water(): HarbourPart {
  const cells = 64
  const points: Vec3[] = []
  const faces: number[][] = []
  // Fine near the quay, coarse towards the horizon.
  const spread = (share: number) => Math.sign(share) * (16 * Math.abs(share) + 2400 * Math.abs(share) ** 8)
  for (let j = 0; j <= cells; j++) {
    for (let i = 0; i <= cells; i++) {
      const x = spread((2 * i) / cells - 1)
      const z = spread((2 * j) / cells - 1)
      const calm = 1 / (1 + ((x * x + z * z) / 700) ** 2)
      const y =
        WATER +
        calm *
          (0.028 * Math.sin(1.1 * x + 0.5 * z) +
            0.024 * Math.sin(-0.7 * x + 1.9 * z + 1) +
            0.012 * Math.sin(2.7 * x + 2.1 * z))
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

/** A long hill out of the sea: `bearingDeg` and `distance` from the quay, its outline made of a few waves. */
function hill(seed: number, bearingDeg: number, distance: number, halfWidth: number, height: number): Shape {
  const random = seededRandom(seed)
  const phases = Array.from({ length: 4 }, () => random() * 6.28)
  const columns = 48
  const rows = 10
  const points: Vec3[] = []
  const faces: number[][] = []
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) {
      const u = (2 * i) / columns - 1
      const v = j / rows
      const ends = Math.max(0, 1 - u * u) ** 0.7
      const ridge =
        height *
        ends *
        (0.62 +
          0.2 * Math.sin(2.3 * u + phases[0]) +
          0.11 * Math.sin(5.1 * u + phases[1]) +
          0.045 * Math.sin(11 * u + phases[2]))
      // A foot that rises steeply as a low cliff, then slopes to the ridge.
      const rise = Math.min(1, 0.24 * Math.min(1, v * 9) + 0.76 * Math.sin((v * Math.PI) / 2) ** 1.3)
      const wobble = 0.02 * height * Math.sin(17 * u + 6 * v + phases[3])
      points.push([u * halfWidth, WATER - 0.5 + ridge * rise + wobble * v, -v * height * 2.2])
    }
  }
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const a = j * (columns + 1) + i
      faces.push([a, a + 1, a + columns + 2, a + columns + 1])
    }
  }
  return turn(move({ points, faces }, 0, 0, -distance), 'y', -bearingDeg)
}

/** A lighthouse small with distance. */
const beacon = (): Shape =>
  lathe(
    [
      [1.5, -2],
      [1.42, 0.2],
      [1.15, 3.2],
      [0.98, 6.4],
      [1.3, 6.6],
      [1.3, 6.85],
      [0.8, 6.9],
      [0.8, 8.0],
      [0.98, 8.05],
      [0.5, 8.8],
      [0.05, 9.1],
    ],
    20,
  )

function ladder(): Shape {
  const rungs = Array.from({ length: 8 }, (_, i) =>
    tube(
      [
        [-0.2, -0.22 - i * 0.21, 0],
        [0, -0.22 - i * 0.21, 0],
        [0.2, -0.22 - i * 0.21, 0],
      ],
      0.014,
      8,
    ),
  )
  const stile = (x: number) =>
    tube(
      curve(
        [
          [x, 0.02, -0.34],
          [x, 0.1, -0.22],
          [x, 0.06, -0.04],
          [x, -0.12, 0],
          [x, -0.9, 0],
          [x, -1.9, 0],
        ],
        5,
      ),
      0.022,
      10,
    )
  return join(...rungs, stile(-0.2), stile(0.2))
}

/** Old piles standing out of the water, with their iron hoops. */
function piles(): { timber: Shape; hoops: Shape } {
  const places: readonly (readonly [number, number, number, number])[] = [
    [-5.2, 0.55, -3.4, 1.5],
    [-4.75, 0.12, -3.75, -2],
    [-5.65, -0.25, -3.9, 2.5],
  ]
  const pile = (top: number) =>
    lathe(
      [
        [0.15, WATER - 0.6],
        [0.145, WATER + 0.4],
        [0.14, top - 0.06],
        [0.125, top - 0.015],
        [0.1, top],
        [0.002, top + 0.012],
      ],
      18,
    )
  const hoop = (top: number) =>
    lathe(
      [
        [0.14, top - 0.25],
        [0.152, top - 0.245],
        [0.152, top - 0.185],
        [0.14, top - 0.18],
      ],
      18,
    )
  const set = (make: (top: number) => Shape) =>
    join(...places.map(([x, top, z, lean]) => move(turn(make(top), 'z', lean), x, 0, z)))
  return { timber: set(pile), hoops: set(hoop) }
}

/** Everything between the quay and the horizon. */
export function waterside(): HarbourPart[] {
  const { parts, stem } = dinghy(-4.5, WATER - 0.11, 0.55, -58)
  const ring: Vec3 = [-3.02, -0.52, 0.1]
  const sag = (t: number): Vec3 => {
    const straight = add(scale(stem, 1 - t), scale(ring, t))
    return [straight[0], straight[1] - 0.5 * t * (1 - t) * 1.6, straight[2]]
  }
  const painter = rope(
    Array.from({ length: 30 }, (_, i) => sag(i / 29)),
    0.02,
    0.14,
  )
  const ringShape = tube(
    Array.from({ length: 20 }, (_, i): Vec3 => {
      const a = (i / 20) * 2 * Math.PI
      return [0.02, 0.07 * Math.cos(a), 0.07 * Math.sin(a)]
    }),
    0.012,
    8,
    true,
  )
  const { timber, hoops } = piles()
  const far = hill(21, 24, 420, 300, 26)
  const near = hill(5, 2, 210, 86, 21)
  const onHill = turn(
    move(
      mapPoints(beacon(), (p) => scale(p, 1.15)),
      44,
      10.6,
      -244,
    ),
    'y',
    -2,
  )
  return [
    water(),
    ...parts,
    { name: 'Painter', material: 'Hemp', shape: painter },
    { name: 'Mooring ring', material: 'Iron', shape: move(ringShape, -3.03, -0.5, 0.1) },
    {
      name: 'Ring plate',
      material: 'Iron',
      shape: move(bevelBox(0.03, 0.12, 0.12, 0.006), -3.01, -0.5, 0.1),
    },
    { name: 'Quay ladder', material: 'Iron', shape: move(ladder(), 0.62, 0.06, 3.36) },
    { name: 'Piles', material: 'Weathered oak', shape: timber },
    { name: 'Pile hoops', material: 'Iron', shape: hoops },
    { name: 'Headland', material: 'Far land', shape: near },
    { name: 'Far shore', material: 'Farther land', shape: far },
    { name: 'Beacon', material: 'Enamel', shape: onHill },
    { name: 'Low sun', material: 'Sun', shape: sun() },
  ]
}

/** The sun as a disc behind everything, so that masks and lines know of it. */
function sun(): Shape {
  const disc = lathe(
    [
      [0.5, 0],
      [16, 0.2],
      [36, 0.2],
      [37, 0],
    ],
    72,
  )
  return turn(move(turn(disc, 'x', 90), 0, 66, -980), 'y', -34)
}
