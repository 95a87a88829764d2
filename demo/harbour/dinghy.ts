import type { Vec3 } from '@/core/math/vec3'
import type { Shape } from '../modelling-kit'
import { bevelBox, join, loft, mapPoints, mirrored, move, tube, turn } from '../modelling-kit'
import type { HarbourPart } from './harbour-part'

const LENGTH = 2.7
const HALF_BEAM = 0.56
const STATIONS = 22
const STRAKES = 6

/** Half the beam at the gunwale, from transom (0) to stem (1). */
const beam = (t: number): number =>
  HALF_BEAM * (t < 0.42 ? 1 - 0.34 * ((0.42 - t) / 0.42) ** 2 : 1 - 0.985 * ((t - 0.42) / 0.58) ** 2.3)
const keel = (t: number): number => 0.04 * (1 - t) ** 2 + 0.34 * Math.max(0, (t - 0.72) / 0.28) ** 2.4
const sheer = (t: number): number => 0.47 + 0.12 * (1 - t) ** 3 + 0.26 * t ** 3.2

/** A point of the hull: `t` from transom to stem, `s` from keel to gunwale, `out` metres off the planking. */
function hull(t: number, s: number, out: number): Vec3 {
  const angle = s * (Math.PI / 2)
  const z = (beam(t) + out) * Math.sin(angle) ** 0.82
  const y = keel(t) + (sheer(t) - keel(t)) * (1 - Math.cos(angle)) ** 0.92 - out * Math.cos(angle)
  return [(t - 0.5) * LENGTH + 0.16 * s * t ** 5, y, z]
}

/** Planks that overlap like slates: each strake's lower edge stands off the one below. */
function planking(): Shape {
  const side: Shape[] = []
  for (let k = 0; k < STRAKES; k++) {
    const low = k / STRAKES
    const high = Math.min(1, (k + 1.12) / STRAKES)
    const rings: Vec3[][] = []
    for (let i = 0; i <= STATIONS; i++) {
      const t = i / STATIONS
      rings.push([
        hull(t, low, 0.022),
        hull(t, (low + high) / 2, 0.018),
        hull(t, high, 0.01),
        hull(t, high, -0.004),
        hull(t, (low + high) / 2, 0.002),
        hull(t, low, 0.008),
      ])
    }
    side.push(loft(rings))
  }
  const half = join(...side)
  return join(half, mirrored(half, 'z'))
}

function transom(): Shape {
  const ring = (x: number): Vec3[] => {
    const half = Array.from({ length: 9 }, (_, i) => hull(0, 1 - i / 8.5, -0.004))
    return [...half, ...half.map(([px, y, z]): Vec3 => [px, y, -z]).reverse()].map(([, y, z]): Vec3 => [
      x,
      y,
      z,
    ])
  }
  return loft([ring(-LENGTH / 2 - 0.02), ring(-LENGTH / 2 + 0.025)])
}

function gunwale(): Shape {
  const rail = tube(
    Array.from({ length: 27 }, (_, i): Vec3 => {
      const [x, y, z] = hull((i / 26) * 0.995, 1, 0.006)
      return [x, y + 0.008, z]
    }),
    0.021,
    8,
  )
  return join(rail, mirrored(rail, 'z'))
}

/** Keel and stem in one sweep. */
const backbone = (): Shape =>
  tube(
    [
      ...Array.from({ length: 20 }, (_, i): Vec3 => {
        const t = i / 19
        return [(t - 0.5) * LENGTH + 0.02 * t, keel(t) - 0.018, 0]
      }),
      [LENGTH / 2 + 0.06, 0.5, 0],
      [LENGTH / 2 + 0.14, 0.7, 0],
      [LENGTH / 2 + 0.165, 0.79, 0],
    ],
    0.028,
    8,
  )

function ribs(): Shape {
  const all: Shape[] = []
  for (let i = 1; i < 9; i++) {
    const t = 0.06 + i * 0.095
    const half = tube(
      Array.from({ length: 9 }, (_, k) => hull(t, 0.06 + (k / 8) * 0.92, -0.022)),
      0.012,
      6,
    )
    all.push(half, mirrored(half, 'z'))
  }
  return join(...all)
}

function thwarts(): Shape {
  const across = (t: number, y: number, width: number): Shape => {
    const reach = beam(t) - 0.035
    return move(bevelBox(width, 0.028, 2 * reach, 0.007), (t - 0.5) * LENGTH, y, 0)
  }
  return join(across(0.13, 0.4, 0.3), across(0.46, 0.36, 0.22), across(0.76, 0.44, 0.2))
}

function oar(): Shape {
  const shaft = tube(
    [
      [-1.0, 0, 0],
      [-0.8, 0, 0],
      [0.2, 0, 0],
      [0.72, 0, 0],
    ],
    (share) => 0.019 + 0.005 * Math.sin(Math.PI * share),
    8,
  )
  const blade = tube(
    [
      [0.68, 0, 0],
      [0.78, 0, 0],
      [0.95, 0, 0],
      [1.16, 0, 0],
      [1.2, 0, 0],
    ],
    (share) => 0.018 + 0.052 * Math.min(1, share * 2.4),
    10,
  )
  return join(
    shaft,
    mapPoints(blade, ([x, y, z]) => [x, y * 0.16, z]),
  )
}

/** Where the painter is made fast: the top of the stem, in the dinghy's own place. */
const STEM_HEAD: Vec3 = [LENGTH / 2 + 0.16, 0.76, 0]

/** A clinker-built dinghy lying off the quay, and where its stem head ends up. */
export function dinghy(x: number, y: number, z: number, headingDeg: number) {
  const afloat = (shape: Shape): Shape => move(turn(turn(shape, 'x', 2.5), 'y', headingDeg), x, y, z)
  const oars = join(
    move(turn(turn(oar(), 'z', 3), 'y', 4), 0.02, 0.42, 0.16),
    move(turn(turn(oar(), 'z', 4), 'y', -7), -0.06, 0.425, -0.12),
  )
  const parts: HarbourPart[] = [
    { name: 'Dinghy planking', material: 'Painted timber', shape: afloat(join(planking(), transom())) },
    { name: 'Dinghy gunwale', material: 'Door oak', shape: afloat(gunwale()) },
    { name: 'Dinghy keel and stem', material: 'Door oak', shape: afloat(backbone()) },
    { name: 'Dinghy ribs', material: 'Weathered oak', shape: afloat(ribs()) },
    { name: 'Dinghy thwarts', material: 'Weathered oak', shape: afloat(thwarts()) },
    { name: 'Oars', material: 'Weathered oak', shape: afloat(oars) },
  ]
  const stem = afloat({ points: [STEM_HEAD], faces: [] }).points[0]
  return { parts, stem }
}
