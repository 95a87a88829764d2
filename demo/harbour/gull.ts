import type { Shape } from '../modelling-kit'
import { curve, join, mapPoints, move, quadBall, tube, turn } from '../modelling-kit'
import type { HarbourPart } from './harbour-part'

export function gull(): HarbourPart[] {
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
