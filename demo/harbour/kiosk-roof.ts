import type { Vec3 } from '@/core/math/vec3'
import type { Shape } from '../modelling-kit'
import { bevelBox, circle, join, lathe, loft, move, octagonal, strip, turn } from '../modelling-kit'
import type { HarbourPart } from './harbour-part'
import { aroundEight, EAVES, ROOF } from './harbour-part'

export function roof(): HarbourPart[] {
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

export function lantern(): HarbourPart[] {
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
