import { seededRandom } from '../math/sampling'
import type { PaperHold } from './paper-form'
import type { StandPieces } from './stand-pieces'

/** What a sheet of paper is shown on or in. The sheet's longer side is 1; its middle lies at the origin, +Z to the viewer. */

export interface StandSetting {
  readonly pieces: StandPieces
  readonly width: number
  readonly height: number
  readonly seed: number
  /** Where a place of the sheet lies, in shares from its upper left. */
  readonly place: (u: number, v: number) => readonly [number, number, number]
}

/** A sheet of glass in front: what lies within it is seen through it. */
export interface Glass {
  readonly x0: number
  readonly y0: number
  readonly x1: number
  readonly y1: number
  readonly z: number
}

export interface Stand {
  readonly label: string
  /** It lies on a table rather than on a wall. */
  readonly isLying?: boolean
  /** How far what holds it reaches about the sheet. */
  readonly reach?: number
  readonly hold: (width: number, height: number) => PaperHold
  /** Adds what holds the sheet. */
  readonly build?: (setting: StandSetting) => Built
}

export interface Built {
  /** Glass before the sheet. */
  readonly glass?: Glass
  /** Where the wall is open: half its width and height. */
  readonly opening?: readonly [number, number]
}

/** Nothing rises at the corners, where it is held. @param away from a corner, in which it is free again. */
const heldAtCorners = (width: number, height: number, away: number) => (x: number, y: number) => {
  const dx = width / 2 - Math.abs(x)
  const dy = height / 2 - Math.abs(y)
  const d = Math.hypot(dx, dy) / away
  return d >= 1 ? 1 : 0.12 + 0.88 * d * d * (3 - 2 * d)
}

const pin = ({ pieces }: StandSetting, x: number, y: number, z: number): void => {
  const head = pieces.material('Pin head', [0.68, 0.2, 0.13], { roughness: 0.3, highlight: 0.5 })
  pieces.turned(
    [x, y, z],
    [
      [0.0075, -0.002],
      [0.0078, 0.003],
      [0.005, 0.006],
      [0.0046, 0.014],
      [0.0085, 0.018],
      [0.0098, 0.0205],
      [0.0088, 0.0228],
      [0.004, 0.0238],
    ],
    head,
  )
}

const CORNER_PLACES = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
] as const

/** A strip of tape over a corner, laid on by hand. */
function tape({ pieces, place, width, height, seed }: StandSetting, corner: number): void {
  const random = seededRandom(97 * seed + corner)
  const material = pieces.material('Tape', [0.87, 0.8, 0.62], { roughness: 0.45, highlight: 0.25 })
  const [u, v] = CORNER_PLACES[corner]
  const [cx, cy] = [(u - 0.5) * width, (0.5 - v) * height]
  // From outside one side to outside the other, across the corner.
  const turn = (u === v ? 1 : -1) * (Math.PI / 4) + (random() - 0.5) * 0.35
  const [dx, dy] = [Math.cos(turn), Math.sin(turn)]
  const [length, breadth] = [0.15 + 0.02 * random(), 0.043]
  const inward = 0.012
  const [mx, my] = [cx - Math.sign(cx) * inward, cy - Math.sign(cy) * inward]
  const rows: [number, number, number][][] = []
  for (let j = 0; j <= 8; j++) {
    const row: [number, number, number][] = []
    for (let i = 0; i <= 24; i++) {
      const t = (i / 24 - 0.5) * length
      // Torn off: its ends are not straight.
      const tear = i === 0 || i === 24 ? (random() - 0.5) * 0.006 : 0
      const s = (j / 8 - 0.5) * breadth
      const x = mx + (t + tear) * dx - s * dy
      const y = my + (t + tear) * dy + s * dx
      const inside = Math.abs(x) <= width / 2 && Math.abs(y) <= height / 2
      const z = inside ? place(x / width + 0.5, 0.5 - y / height)[2] + 0.0034 : 0.0016
      row.push([x, y, z])
    }
    rows.push(row)
  }
  pieces.strip(rows, material)
}

/** A clip that is pressed open by two wires, at the upper edge of the sheet. */
function clip({ pieces, height, place, width }: StandSetting, x: number): void {
  const metal = pieces.material('Clip', [0.12, 0.12, 0.13], { roughness: 0.35, highlight: 0.5 })
  const wire = pieces.material('Clip wire', [0.75, 0.74, 0.72], { roughness: 0.25, highlight: 0.8 })
  const top = height / 2
  const z = place(x / width + 0.5, 0.005)[2]
  const [half, deep] = [0.042, 0.03]
  const side = (sign: number): [number, number, number][] => [
    [0, top - deep, z + sign * 0.0025],
    [0, top - 0.2 * deep, z + sign * 0.006],
    [0, top + 0.008, z + sign * 0.012],
  ]
  for (const sign of [1, -1])
    pieces.strip(
      (sign > 0 ? [-half, half] : [half, -half])
        .map((off) => side(sign).map(([, py, pz]): [number, number, number] => [x + off, py, pz]))
        .reverse(),
      metal,
    )
  pieces.box([x - half, top + 0.006, z - 0.0125], [x + half, top + 0.0105, z + 0.0125], 0.002, metal)
  // The wires stand up and meet over the back.
  for (const off of [-0.5, 0.5]) {
    const [x0, x1] = [x + off * half - 0.0022, x + off * half + 0.0022]
    pieces.box([x0, top + 0.004, z + 0.006], [x1, top + 0.05, z + 0.0104], 0.0018, wire)
  }
  pieces.bar([x - 0.5 * half - 0.0022, top + 0.05, z + 0.0082], x + 0.5 * half + 0.0022, 0.0023, wire, 12)
}

/** How far a frame's mount shows about the sheet, and how broad its moulding is. */
const MOUNT = 0.075
const MOULDING = 0.045

function frame({ pieces, width, height }: StandSetting): Built {
  const wood = pieces.material('Frame', [0.2, 0.135, 0.09], { roughness: 0.35, highlight: 0.3 })
  const card = pieces.material('Mount', [0.94, 0.925, 0.89], { roughness: 0.95, highlight: 0 })
  const [x, y] = [width / 2 + MOUNT, height / 2 + MOUNT]
  // A mount cut with a bevel, over the sheet's rim.
  const open = -0.006
  pieces.moulding(
    [-width / 2, -height / 2],
    [width / 2, height / 2],
    [
      [open, 0.008],
      [MOUNT, 0.008],
      [MOUNT, 0.0145],
      [open + 0.007, 0.0145],
    ],
    card,
  )
  const m = MOULDING
  pieces.moulding(
    [-x, -y],
    [x, y],
    [
      [-0.004, 0],
      [m, 0],
      [m, 0.032],
      [m - 0.004, 0.036],
      [0.6 * m, 0.039],
      [0.3 * m, 0.036],
      [0.14 * m, 0.03],
      [0, 0.03],
      [-0.004, 0.026],
    ],
    wood,
  )
  return { glass: { x0: -x, y0: -y, x1: x, y1: y, z: 0.022 } }
}

function shopWindow({ pieces, width, height }: StandSetting): Built {
  const paint = pieces.material('Window paint', [0.13, 0.22, 0.21], { roughness: 0.4, highlight: 0.25 })
  const inside = pieces.material('Inside', [0.42, 0.35, 0.28], { roughness: 0.9, highlight: 0 })
  const sill = pieces.material('Sill', [0.62, 0.58, 0.52], { roughness: 0.8, highlight: 0.05 })
  const cord = pieces.material('Cord', [0.8, 0.74, 0.6], { roughness: 0.9, highlight: 0 })
  const [x, y] = [width / 2 + 0.16, height / 2 + 0.12]
  const back = -0.3
  // The room behind: a box that is open to the front.
  pieces.strip(
    [
      [
        [-x, -y, back],
        [x, -y, back],
      ],
      [
        [-x, y, back],
        [x, y, back],
      ],
    ],
    inside,
  )
  pieces.strip(
    [
      [
        [-x, -y, 0.05],
        [-x, -y, back],
      ],
      [
        [-x, y, 0.05],
        [-x, y, back],
      ],
    ],
    inside,
  )
  pieces.strip(
    [
      [
        [x, -y, back],
        [x, -y, 0.05],
      ],
      [
        [x, y, back],
        [x, y, 0.05],
      ],
    ],
    inside,
  )
  pieces.strip(
    [
      [
        [-x, -y, 0.05],
        [x, -y, 0.05],
      ],
      [
        [-x, -y, back],
        [x, -y, back],
      ],
    ],
    sill,
  )
  pieces.strip(
    [
      [
        [-x, y, back],
        [x, y, back],
      ],
      [
        [-x, y, 0.05],
        [x, y, 0.05],
      ],
    ],
    inside,
  )
  const f = 0.09
  pieces.moulding(
    [-x, -y],
    [x, y],
    [
      [0, 0.0],
      [f, 0.0],
      [f, 0.085],
      [f - 0.006, 0.091],
      [0.45 * f, 0.091],
      [0.4 * f, 0.08],
      [0.08 * f, 0.075],
      [0, 0.069],
    ],
    paint,
  )
  // A bar across, above the sheet, and a ledge below.
  pieces.box([-x - f, -y - f - 0.02, 0], [x + f, -y - f + 0.03, 0.17], 0.008, sill)
  for (const side of [-0.32, 0.32])
    pieces.box(
      [side * width - 0.0022, height / 2 - 0.012, -0.0482],
      [side * width + 0.0022, y, -0.0448],
      0.001,
      cord,
    )
  return { glass: { x0: -x, y0: -y, x1: x, y1: y, z: 0.05 }, opening: [x, y] }
}

/** Every stand, in the order it is offered. */
export const STANDS = {
  pinned: {
    label: 'Pinned to a wall',
    hold: (width, height) => ({
      relief: 1,
      loose: heldAtCorners(width, height, 0.24),
      gap: 0.0015,
      // Its own weight lets it stand off a little between the pins.
      sag: (x, y) => 0.012 * (1 - ((2 * x) / width) ** 2) * (0.35 + 0.65 * (0.5 - y / height)),
    }),
    build(setting) {
      for (const [u, v] of CORNER_PLACES) {
        const [x, y, z] = setting.place(u === 0 ? 0.032 : 0.968, v === 0 ? 0.024 : 0.976)
        pin(setting, x, y, z)
      }
      return {}
    },
  },
  taped: {
    label: 'Taped to a wall',
    hold: (width, height) => ({ relief: 0.9, loose: heldAtCorners(width, height, 0.2), gap: 0.0012 }),
    build(setting) {
      CORNER_PLACES.forEach((_, corner) => tape(setting, corner))
      return {}
    },
  },
  pasted: {
    label: 'Pasted on a wall',
    hold: () => ({ relief: 0.28, gap: 0.0008 }),
  },
  clips: {
    label: 'Held by clips',
    reach: 0.03,
    hold: (_, height) => ({
      relief: 1,
      gap: 0.035,
      sag: (x, y) => 0.03 * (0.5 - y / height) ** 2 + 0.006 * Math.cos(9 * x) * Math.max(0, y / height),
    }),
    build(setting) {
      for (const share of [-0.3, 0.3]) clip(setting, share * setting.width)
      return {}
    },
  },
  framed: {
    label: 'Framed, under glass',
    reach: MOUNT + MOULDING,
    hold: () => ({ relief: 0.12, gap: 0.001 }),
    build: frame,
  },
  window: {
    label: 'In a shop window',
    reach: 0.25,
    hold: () => ({ relief: 0.7, gap: -0.046 }),
    build: shopWindow,
  },
  lying: {
    label: 'Lying on a table',
    isLying: true,
    hold: () => ({ relief: 1, gap: 0.0006 }),
  },
} as const satisfies Record<string, Stand>

export type StandKind = keyof typeof STANDS
export const STAND_KINDS = Object.keys(STANDS) as StandKind[]
