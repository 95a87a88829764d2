import type { HarbourPart } from './harbour/harbour-part'
import { gull } from './harbour/gull'
import { lantern, roof } from './harbour/kiosk-roof'
import { body, door } from './harbour/kiosk-walls'
import { paving } from './harbour/quay'
import { quayside } from './harbour/quayside'
import { gauge } from './harbour/tide-gauge'
import { waterside } from './harbour/waterside'

export { FOG_BELL_MATERIALS, fogBell } from './harbour/fog-bell'
export { openWater } from './harbour/open-water'

/*
 * Pell Harbour: a stone quay at low water with its tide kiosk. An invented place. Metres, +Y up; the kiosk's door
 * looks to +Z, the water lies beyond −X and in front.
 */

/** Display colours. */
export const HARBOUR_MATERIALS: Readonly<Record<string, string>> = {
  'Quay stone': '#b3a48d',
  'Dressed stone': '#d9ccb4',
  'Painted timber': '#e9dcc0',
  'Trim paint': '#54747a',
  'Door oak': '#8c4a2f',
  Copper: '#6fa08c',
  Brass: '#d3a54a',
  Iron: '#47474b',
  'Lantern glass': '#f3d68b',
  Enamel: '#f6efdd',
  Hemp: '#c39a62',
  'Sea stone': '#8d8f8c',
  'Gull white': '#f3f0e8',
  'Gull grey': '#8f9aa3',
  Bill: '#e0962f',
  'Weathered oak': '#a98a68',
}

/** Display colours of what lies beyond. */
export const OPEN_WATER_MATERIALS: Readonly<Record<string, string>> = {
  Water: '#7ba3a6',
  'Far land': '#8c9a94',
  'Farther land': '#b3b3a8',
  'Beacon white': '#f6efdd',
  Sun: '#fff0c8',
}

/** Every part of the quay and its kiosk, in the order of the file. */
export const tideKiosk = (): HarbourPart[] => [
  ...paving(),
  ...body(),
  ...door(),
  ...gauge(),
  ...roof(),
  ...lantern(),
  ...quayside(),
  ...gull(),
  ...waterside(),
]
