import type { Vec3 } from '@/core/math/vec3'
import { scale } from '@/core/math/vec3'
import { seededRandom } from '@/core/math/sampling'
import type { Shape } from '../modelling-kit'
import { lathe, mapPoints, move, turn } from '../modelling-kit'
import type { HarbourPart } from './harbour-part'

/** Height of the water, metres below the quay's paving. */
export const WATER = -1.62

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

/** Everything from the quay to the horizon, in a model of its own: it is kilometres wide, the quay is not. */
export function openWater(): HarbourPart[] {
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
    { name: 'Headland', material: 'Far land', shape: near },
    { name: 'Far shore', material: 'Farther land', shape: far },
    { name: 'Beacon', material: 'Beacon white', shape: onHill },
    { name: 'Low sun', material: 'Sun', shape: sun() },
  ]
}
