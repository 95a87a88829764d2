import { z } from 'zod'

/** What migrations have in common. They are frozen: what a stored document means must not move with the application. */

export const numberOr = (value: unknown, fallback: number): number =>
  typeof value === 'number' ? value : fallback
export const hexOr = (value: unknown, fallback: string): string =>
  typeof value === 'string' ? value : fallback
export const loose = z.record(z.string(), z.unknown())

export const only = (values: Record<string, unknown>, names: readonly string[]): Record<string, unknown> =>
  Object.fromEntries(Object.entries(values).filter(([name]) => names.includes(name)))

export const within = (value: number, low: number, high: number): number =>
  Math.min(high, Math.max(low, value))

/** Labels and efforts of the passes as they were when they came into documents, in version 3. */
export const PASSES: Readonly<
  Record<string, { readonly label: string; readonly samples: number; readonly rays: number }>
> = {
  clay: { label: 'Clay', samples: 16, rays: 8 },
  lit: { label: 'Lit', samples: 16, rays: 8 },
  occlusion: { label: 'Occlusion', samples: 16, rays: 16 },
  cavity: { label: 'Cavity', samples: 16, rays: 8 },
  contour: { label: 'Contour', samples: 1, rays: 0 },
  wireframe: { label: 'Wireframe', samples: 16, rays: 0 },
  id: { label: 'ID', samples: 64, rays: 16 },
  flat: { label: 'Flat', samples: 16, rays: 0 },
  stepped: { label: 'Stepped', samples: 16, rays: 24 },
  shadow: { label: 'Shadow', samples: 16, rays: 24 },
  light: { label: 'Light', samples: 16, rays: 16 },
  depth: { label: 'Depth', samples: 16, rays: 0 },
  normal: { label: 'Normal', samples: 16, rays: 0 },
  facing: { label: 'Facing', samples: 16, rays: 0 },
  thickness: { label: 'Thickness', samples: 16, rays: 8 },
}

/** Members of a pass that holds everything. */
export const allMembers = () => ({ parts: null, others: 'hold out', letThrough: [], lights: null })
