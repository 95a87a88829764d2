import type { Light, Rig } from './light-rig'
import { newLight } from './light-rig'

/** A rig to begin with. */
export interface ReadyRig {
  readonly name: string
  /** One sentence: what it is good for. */
  readonly summary: string
  readonly lights: readonly Light[]
}

const hex = (value: string) => ({ by: 'colour' as const, hex: value })
const kelvin = (value: number) => ({ by: 'kelvin' as const, kelvin: value })

/** Rigs for the lightings that are asked for most. The first is what a new project has. */
export const READY_RIGS: readonly ReadyRig[] = [
  {
    name: 'Key and sky',
    summary: 'One soft key from the upper left under a wide sky: reads any form.',
    lights: [
      newLight('sun', 'key', {
        name: 'Key',
        azimuthDeg: -42,
        elevationDeg: 38,
        sizeDeg: 9,
        colour: hex('#fff3e0'),
        strength: 0.95,
      }),
      newLight('dome', 'sky', { name: 'Sky', colour: hex('#dfe8f2'), below: '#c9b49c', strength: 0.55 }),
    ],
  },
  {
    name: 'Three soft lights',
    summary: 'Key, weaker fill and a rim, all wide and soft: portraits and figures.',
    lights: [
      newLight('area', 'key', {
        name: 'Key',
        azimuthDeg: -48,
        elevationDeg: 34,
        distanceD: 1.4,
        widthD: 0.7,
        heightD: 0.7,
        colour: kelvin(4800),
        strength: 0.95,
      }),
      newLight('area', 'fill', {
        name: 'Fill',
        azimuthDeg: 55,
        elevationDeg: 12,
        distanceD: 1.6,
        widthD: 1,
        heightD: 1,
        colour: kelvin(7500),
        strength: 0.28,
      }),
      newLight('area', 'rim', {
        name: 'Rim',
        azimuthDeg: 158,
        elevationDeg: 36,
        distanceD: 1.3,
        widthD: 0.3,
        heightD: 0.8,
        shape: 'rectangle',
        colour: kelvin(6500),
        strength: 1.3,
      }),
      newLight('dome', 'sky', { name: 'Room', colour: hex('#e8e4de'), below: '#8d8378', strength: 0.22 }),
    ],
  },
  {
    name: 'Overcast',
    summary: 'No direction but up: form by occlusion alone, the quietest base.',
    lights: [
      newLight('dome', 'sky', { name: 'Sky', colour: hex('#eef1f4'), below: '#8f877c', strength: 0.95 }),
    ],
  },
  {
    name: 'Low raking',
    summary: 'A low light along the surface: brings up relief, joints and tool marks.',
    lights: [
      newLight('sun', 'rake', {
        name: 'Rake',
        azimuthDeg: -86,
        elevationDeg: 9,
        sizeDeg: 3,
        colour: kelvin(4300),
        strength: 1.25,
      }),
      newLight('dome', 'sky', { name: 'Sky', colour: hex('#c4d2e0'), below: '#7d7467', strength: 0.22 }),
    ],
  },
  {
    name: 'Two rims',
    summary: 'Two strips from behind: edges alone, to be screened over another lighting.',
    lights: [
      newLight('area', 'left', {
        name: 'Left rim',
        azimuthDeg: -150,
        elevationDeg: 18,
        distanceD: 1.3,
        shape: 'rectangle',
        widthD: 0.2,
        heightD: 1,
        colour: kelvin(8500),
        strength: 1.6,
      }),
      newLight('area', 'right', {
        name: 'Right rim',
        azimuthDeg: 150,
        elevationDeg: 18,
        distanceD: 1.3,
        shape: 'rectangle',
        widthD: 0.2,
        heightD: 1,
        colour: kelvin(3600),
        strength: 1.6,
      }),
    ],
  },
  {
    name: 'Hard sun',
    summary: 'A clear day: crisp shadow, blue in it.',
    lights: [
      newLight('sun', 'sun', {
        name: 'Sun',
        tied: 'world',
        azimuthDeg: -55,
        elevationDeg: 42,
        sizeDeg: 0.53,
        colour: kelvin(5400),
        strength: 1.15,
      }),
      newLight('dome', 'sky', { name: 'Sky', colour: hex('#a9c4e6'), below: '#a08f76', strength: 0.32 }),
    ],
  },
  {
    name: 'From above',
    summary: 'Straight down: the fallen shadow lies under the feet.',
    lights: [
      newLight('area', 'top', {
        name: 'Top',
        azimuthDeg: 0,
        elevationDeg: 90,
        distanceD: 1.6,
        widthD: 0.45,
        heightD: 0.45,
        colour: kelvin(5000),
        strength: 1.1,
      }),
      newLight('dome', 'sky', { name: 'Room', colour: hex('#e2ddd5'), below: '#9b9184', strength: 0.3 }),
    ],
  },
]

/** A ready rig as a rig of a project. @param newId makes the ids of it and its lights. */
export const fromReadyRig = (ready: ReadyRig, newId: () => string): Rig => ({
  id: newId(),
  name: ready.name,
  lights: ready.lights.map((light) => ({ ...light, id: newId() })),
})

/** The rig of what has none of its own: a bare model in the headless command, a new project. */
export const DEFAULT_RIG: Rig = {
  id: 'rig',
  name: READY_RIGS[0].name,
  lights: [...READY_RIGS[0].lights],
}
