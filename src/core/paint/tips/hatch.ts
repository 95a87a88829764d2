import type { TipKind } from './tip-kind'

const LINES = 5

/** Strokes of a pen side by side. */
export const hatch: TipKind = {
  kind: 'hatch',
  label: 'Hatch',
  summary: 'Short lines side by side, at an angle of their own.',
  brush: { spacing: 0.9, flow: 0.9, angleDeg: 35, jitterSize: 0.08, jitterAngle: 0.02, leastSize: 0.8 },
  touches(x, y, _seed, fine) {
    if (Math.abs(x) >= 0.95) return 0
    const at = (0.5 + 0.5 * y) * LINES
    const off = (Math.abs(at - Math.floor(at) - 0.5) * 2) / LINES
    // Thin at both ends.
    const half = 0.055 * Math.min(1, 5 * (0.95 - Math.abs(x)))
    return Math.min(1, Math.max(0, 0.5 + (half - off) / Math.max(1e-6, 2 * fine)))
  },
}
