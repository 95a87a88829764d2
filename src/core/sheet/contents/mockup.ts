import { z } from 'zod'
import { choiceParam, colourParam, grouped, numberParam, toggleParam } from '../../params'
import { CORNERS, FOLDS } from '../../mockup/paper-form'
import { STAND_KINDS, STANDS, type StandKind } from '../../mockup/stands'
import { WALLS, type MockupForm } from '../../mockup/mockup-scene'
import { rigSchema } from '../../scene/light-rig'
import { DEFAULT_RIG } from '../../scene/ready-rigs'
import { defineContent } from './content-kind'

const words = <T extends string>(names: readonly T[], told: Readonly<Record<T, string>>) =>
  Object.fromEntries(names.map((name) => [name, told[name]])) as Record<T, string>

const share = (label: string, byDefault: number) =>
  numberParam({ label, min: 0, max: 1, step: 0.01, default: byDefault })

/** How light falls on a print. */
const onPrint = {
  shadows: numberParam({ label: 'Shadows', min: 0, max: 3, step: 0.01, default: 1 }),
  lights: numberParam({ label: 'Lights', min: 0, max: 3, step: 0.01, default: 0.8 }),
  calm: numberParam({ label: 'Leaves alone', min: 0, max: 0.5, step: 0.005, default: 0.02 }),
}

const schema = z.object({
  stand: choiceParam({
    label: 'Shown',
    options: words(
      STAND_KINDS,
      Object.fromEntries(STAND_KINDS.map((kind) => [kind, STANDS[kind].label])) as Record<StandKind, string>,
    ),
    default: 'pinned',
  }),
  ...grouped('Paper', {
    folds: choiceParam({
      label: 'Folded',
      options: words(FOLDS, {
        none: 'Never',
        half: 'In half',
        letter: 'As a letter',
        quarters: 'In quarters',
        eighths: 'In eighths',
      }),
      default: 'quarters',
    }),
    foldDeg: numberParam({ label: 'Folds stand open', unit: '°', min: 0, max: 60, step: 0.5, default: 12 }),
    creases: share('Creased', 0.7),
    waves: share('Uneven', 0.35),
    curl: numberParam({ label: 'Curled', min: -1, max: 1, step: 0.01, default: 0 }),
    curlAcross: toggleParam({ label: 'Curled from side to side', default: false }),
    corner: choiceParam({
      label: 'Rolled corner',
      options: words(CORNERS, {
        none: 'None',
        'lower right': 'Lower right',
        'lower left': 'Lower left',
        'upper right': 'Upper right',
        'upper left': 'Upper left',
      }),
      default: 'none',
    }),
    cornerRoll: share('How far', 0.35),
    paperColour: colourParam({ label: 'Bare paper', default: '#fbf8f1' }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  ...grouped('View', {
    azimuthDeg: numberParam({
      label: 'From the side',
      unit: '°',
      min: -180,
      max: 180,
      step: 0.5,
      default: -14,
    }),
    elevationDeg: numberParam({ label: 'From above', unit: '°', min: -80, max: 90, step: 0.5, default: 5 }),
    rollDeg: numberParam({ label: 'Turned', unit: '°', min: -180, max: 180, step: 0.5, default: 0 }),
    fovDeg: numberParam({ label: 'Field of view', unit: '°', min: 4, max: 100, step: 0.5, default: 28 }),
    room: numberParam({ label: 'Room about it', unit: '%', min: -40, max: 44, step: 0.5, default: 9 }),
    shiftX: numberParam({ label: 'To the right', unit: '%', min: -100, max: 100, step: 0.5, default: 0 }),
    shiftY: numberParam({ label: 'Up', unit: '%', min: -100, max: 100, step: 0.5, default: 0 }),
  }),
  ...grouped('Behind', {
    wall: choiceParam({
      label: 'Wall or table',
      options: words(WALLS, {
        plaster: 'Plaster',
        even: 'Even',
        bricks: 'Bricks',
        boards: 'Boards',
        none: 'Shadow alone',
      }),
      default: 'plaster',
    }),
    wallColour: colourParam({ label: 'Its colour', default: '#cfc4b2' }),
  }),
  ...grouped('Light', {
    lightTurnDeg: numberParam({
      label: 'Lights turned',
      unit: '°',
      min: -180,
      max: 180,
      step: 1,
      default: 0,
    }),
    ...onPrint,
    reflection: numberParam({ label: 'Glass mirrors', min: 0, max: 3, step: 0.01, default: 1 }),
  }),
})

const mockupShape = {
  ...schema.shape,
  /** The page or sheet that is printed on it. */
  sheetId: z.string(),
  rig: rigSchema.default(DEFAULT_RIG),
}
export type Mockup = z.infer<z.ZodObject<typeof mockupShape>>

/** A page on paper, rendered: folds, creases and shadows fall on what is printed. It is painted where layers are planned. */
export const mockupContent = defineContent({
  kind: 'mockup',
  version: 1,
  label: 'Mock-up',
  summary: 'A page on a sheet of paper: pinned, framed, folded, under real light.',
  schema,
  shape: mockupShape,
})

/** What of a mock-up takes rays. */
export const mockupForm = (mockup: Mockup): MockupForm => ({
  things: {
    stand: mockup.stand,
    folds: mockup.folds,
    foldDeg: mockup.foldDeg,
    creases: mockup.creases,
    waves: mockup.waves,
    curl: mockup.curl,
    curlAcross: mockup.curlAcross,
    corner: mockup.corner,
    cornerRoll: mockup.cornerRoll,
    wallColour: mockup.wallColour,
    seed: Math.round(mockup.seed),
  },
  wall: mockup.wall,
  azimuthDeg: mockup.azimuthDeg,
  elevationDeg: mockup.elevationDeg,
  rollDeg: mockup.rollDeg,
  fovDeg: mockup.fovDeg,
  room: mockup.room / 100,
  shift: [mockup.shiftX / 100, mockup.shiftY / 100],
  rig: mockup.rig,
  lightTurnDeg: mockup.lightTurnDeg,
})

/** How light on a print is to be told from what it is printed on. */
export interface PrintLight {
  readonly shadows: number
  readonly lights: number
  /** Light that differs by less than this changes nothing. */
  readonly calm: number
}

/**
 * Puts light on a display value: darker light multiplies it, brighter light screens it, and what is about 1 leaves it as it is,
 * so that the whole keeps its brightness.
 * @param light display factor of what falls there.
 */
export function litPrint(value: number, light: number, { shadows, lights, calm }: PrintLight): number {
  if (light < 1) {
    const s = Math.max(1e-4, Math.min(1, light + calm))
    return value * s ** shadows
  }
  const over = Math.max(0, light - 1 - calm)
  return 1 - (1 - value) * (1 - Math.min(1, over * lights))
}
