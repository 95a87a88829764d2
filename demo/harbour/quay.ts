import { seededRandom } from '@/core/math/sampling'
import type { Shape } from '../modelling-kit'
import { bevelBox, join, move } from '../modelling-kit'
import type { HarbourPart } from './harbour-part'

export function paving(): HarbourPart[] {
  const random = seededRandom(11)
  const rows: Shape[] = []
  const kerb: Shape[] = []
  for (let row = 0; row < 8; row++) {
    const z = -2.45 + row * 0.7
    let x = -2.6
    while (x < 3.35) {
      const width = Math.min(0.62 + random() * 0.5, 3.45 - x)
      if (width < 0.3) break
      const height = 0.2 + random() * 0.014
      rows.push(move(bevelBox(width - 0.03, height, 0.668, 0.02), x + width / 2, -0.2, z))
      x += width
    }
  }
  for (let i = 0; i < 6; i++) {
    const z = -2.33 + i * 0.94
    kerb.push(move(bevelBox(0.46, 0.3, 0.925, 0.028), -2.86, -0.23, z))
  }
  for (let i = 0; i < 7; i++) {
    const x = -2.62 + i * 0.93
    kerb.push(move(bevelBox(0.915, 0.3, 0.46, 0.028), x + 0.02, -0.23, 3.04))
  }
  const wall: Shape[] = []
  for (let course = 0; course < 4; course++) {
    const shift = course % 2 ? 0.45 : 0
    for (let i = -1; i < 8; i++) {
      const low = -2.98 + i * 0.93 + shift
      const start = Math.max(low, -2.98)
      const end = Math.min(low + 0.915, 3.5)
      if (end - start > 0.1) {
        wall.push(
          move(
            bevelBox(end - start, 0.385, 0.4, 0.03),
            (start + end) / 2,
            -0.64 - course * 0.4,
            2.98 + random() * 0.02,
          ),
        )
      }
    }
    for (let i = -1; i < 6; i++) {
      const low = -2.6 + i * 0.94 + shift
      const start = Math.max(low, -2.6)
      const end = Math.min(low + 0.925, 2.78)
      if (end - start > 0.1) {
        wall.push(
          move(
            bevelBox(0.4, 0.385, end - start, 0.03),
            -2.8 - random() * 0.02,
            -0.64 - course * 0.4,
            (start + end) / 2,
          ),
        )
      }
    }
  }
  return [
    { name: 'Quay paving', material: 'Quay stone', shape: join(...rows) },
    { name: 'Quay kerb', material: 'Dressed stone', shape: join(...kerb) },
    { name: 'Quay wall', material: 'Quay stone', shape: join(...wall) },
    {
      name: 'Quay core',
      material: 'Quay stone',
      shape: move(bevelBox(6.0, 1.7, 5.3, 0.01), 0.28, -1.92, 0.2),
    },
  ]
}
