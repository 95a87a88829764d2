import { newLight, type Light } from '@/core/scene/light-rig'
import { READY_RIGS } from '@/core/scene/ready-rigs'

/** Lights of our recipes. All are tied to the camera, so that a look holds however the model stands. */

const kelvin = (value: number) => ({ by: 'kelvin' as const, kelvin: value })
const hex = (value: string) => ({ by: 'colour' as const, hex: value })

const readyLights = (name: string): readonly Light[] => {
  const found = READY_RIGS.find((rig) => rig.name === name)
  if (!found) throw new Error(`there is no ready rig ${name}`)
  return found.lights
}

export const WINDOW = readyLights('Key and sky')
export const STUDIO = readyLights('Three soft lights')
export const OVERCAST = readyLights('Overcast')
export const RAKING = readyLights('Low raking')

export const SUN: readonly Light[] = [
  newLight('sun', 'sun', { name: 'Sun', azimuthDeg: -52, elevationDeg: 40, sizeDeg: 0.6, strength: 1.15 }),
  newLight('dome', 'sky', { name: 'Sky', colour: hex('#d5e2f0'), below: '#b8a78c', strength: 0.34 }),
]

export const MOON: readonly Light[] = [
  newLight('sun', 'moon', {
    name: 'Moon',
    azimuthDeg: 152,
    elevationDeg: 34,
    sizeDeg: 3,
    colour: kelvin(9000),
    strength: 0.8,
  }),
  newLight('dome', 'night', { name: 'Night', colour: hex('#5d7a9c'), below: '#1d2636', strength: 0.42 }),
  newLight('area', 'lamp', {
    name: 'Lamp',
    azimuthDeg: 38,
    elevationDeg: -6,
    distanceD: 0.75,
    widthD: 0.12,
    heightD: 0.12,
    colour: kelvin(2400),
    strength: 0.7,
  }),
]

export const SUNRISE: readonly Light[] = [
  newLight('sun', 'sun', {
    name: 'Low sun',
    azimuthDeg: 158,
    elevationDeg: 14,
    sizeDeg: 3,
    colour: kelvin(3200),
    strength: 1.3,
  }),
  newLight('dome', 'sky', { name: 'Sky', colour: hex('#bfd0e0'), below: '#a5826a', strength: 0.6 }),
]
