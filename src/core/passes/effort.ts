import { z } from 'zod'

export const EFFORTS = ['draft', 'good', 'final'] as const
export type EffortName = (typeof EFFORTS)[number]

/** How much work goes into a pixel. */
export const effortSchema = z.strictObject({
  /** The most samples of a pixel; where one smooth surface fills it, fewer tell as much. */
  samples: z.number().int().min(1).max(4096),
  /** Secondary rays for each of them; a pixel with fewer samples has as many rays. */
  rays: z.number().int().min(0).max(4096),
})
export type Effort = Readonly<z.infer<typeof effortSchema>>

/** Efforts of passes that need nothing but what the camera sees. */
export const SEEN_ONLY_EFFORTS: Readonly<Record<EffortName, Effort>> = {
  draft: { samples: 4, rays: 0 },
  good: { samples: 8, rays: 0 },
  final: { samples: 16, rays: 0 },
}
