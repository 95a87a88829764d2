import { z } from 'zod'
import { EFFORTS } from '../passes/effort'
import type { Frame } from '../scene/camera'
import { easeSchema, trackSchema } from '../sheet/tracks'

/** A turntable: how the shot of a sheet moves, and how the sheet's stack goes with it. Time is counted in frames. */

/** What turns before the camera. */
export const TURNING = ['subject', 'camera', 'nothing'] as const
export type Turning = (typeof TURNING)[number]
/** The most frames of one turntable: twenty minutes at 60 a second. */
export const MOST_FRAMES = 72_000

const frameNumber = z.number().min(0).max(MOST_FRAMES)

export const motionSchema = z.object({
  /** The subject before a camera and lights that stay; the camera round a subject that stays; or neither. */
  what: z.enum(TURNING),
  /** Of a circling camera: whether the lights go round with it. */
  lightsGoAlong: z.boolean(),
  turns: z.number().int().min(1).max(100),
  framesPerTurn: z.number().int().min(2).max(10_000),
  /** Frames a second. */
  rate: z.number().min(1).max(240),
  /** Seen from above. */
  direction: z.enum(['clockwise', 'anticlockwise']),
  startDeg: z.number().min(-360).max(360),
  /** Of all turns together. */
  ease: easeSchema,
})
export type Motion = z.infer<typeof motionSchema>

/** Numbers of the camera that may change over time, on top of turning. */
export const CAMERA_LANES = ['push', 'raiseDeg', 'shiftX', 'shiftY'] as const
export type CameraLane = (typeof CAMERA_LANES)[number]

const keysOf = <T extends z.ZodTypeAny>(value: T) =>
  z
    .array(z.object({ at: frameNumber, value, ease: easeSchema }))
    .refine(
      (keys) => keys.every(({ at }, i) => i === 0 || at > keys[i - 1].at),
      'must come one after the other',
    )

export const cameraLanesSchema = z.object({
  /** How far from its target the camera stands, as a factor: 0.5 is half as far. */
  push: keysOf(z.number().min(0.02).max(50)),
  /** Higher or lower round its target, in degrees. */
  raiseDeg: keysOf(z.number().min(-170).max(170)),
  /** How far the lens is shifted besides, in picture heights. */
  shiftX: keysOf(z.number().min(-2).max(2)),
  shiftY: keysOf(z.number().min(-2).max(2)),
  /** Ids of kept views that it goes through. */
  views: keysOf(z.string()),
})
export type CameraLanes = z.infer<typeof cameraLanesSchema>

/** How a layer comes in. */
export const REVEALS = ['fade', 'sweep', 'iris', 'depth', 'height', 'parts', 'drawn'] as const
export type RevealKind = (typeof REVEALS)[number]

export const revealSchema = z
  .object({
    id: z.string(),
    layerId: z.string(),
    kind: z.enum(REVEALS),
    /** Frames: nothing of it is seen up to `from`, all of it from `whole` on, … */
    from: frameNumber,
    whole: frameNumber,
    /** … it begins to go at `goes`, and nothing of it is seen from `gone` on; null where it stays. */
    goes: frameNumber.nullable(),
    gone: frameNumber.nullable(),
    ease: easeSchema,
    /** Of a sweep: where it goes to, clockwise from the right. */
    angleDeg: z.number().min(-360).max(360),
    /** Width of its edge: a share of what it goes over. */
    softness: z.number().min(0).max(1),
    /** Of an iris: its middle, in shares of the sheet. */
    centre: z.tuple([z.number().min(-1).max(2), z.number().min(-1).max(2)]),
    /** Of parts: their keys, the first that comes first. */
    parts: z.array(z.string()).max(10_000),
  })
  .refine(({ from, whole }) => whole >= from, {
    path: ['whole'],
    message: 'must not come before its beginning',
  })
  .refine(({ whole, goes, gone }) => goes === null || (gone !== null && goes >= whole && gone >= goes), {
    path: ['goes'],
    message: 'must come after it is whole, and before it is gone',
  })
export type Reveal = z.infer<typeof revealSchema>

export const turnSchema = z.object({
  id: z.string(),
  name: z.string().min(1).max(200),
  sheetId: z.string(),
  motion: motionSchema,
  camera: cameraLanesSchema,
  reveals: z.array(revealSchema).max(1000),
  tracks: z.array(trackSchema).max(1000),
  /** What is played again and again: from a frame to before another; null for all. */
  marks: z.tuple([frameNumber, frameNumber]).nullable(),
  /** Width of its frames in pixels; null: they are as large as the sheet. */
  width: z.number().int().min(16).max(16_384).nullable().default(null),
  quality: z.enum(EFFORTS).default('good'),
  /** Frames without what lies under the hindmost layer, and clear where nothing is. */
  isClear: z.boolean().default(false),
  /** Frames after which grain and dust change, as on film; 0: they stand. */
  grainEvery: z.number().int().min(0).max(1000).default(2),
  /** Frames after which lines are drawn anew, as by hand; 0: they hold. */
  boilEvery: z.number().int().min(0).max(1000).default(0),
  /** How long the shutter is open, as a share of a frame: 0 is no motion blur. */
  shutter: z.number().min(0).max(1).default(0),
  /** Of how many pictures a frame is the mean while it is. */
  shutterSteps: z.number().int().min(2).max(64).default(8),
})
export type Turn = z.infer<typeof turnSchema>

export const STEADY: Motion = {
  what: 'subject',
  lightsGoAlong: false,
  turns: 2,
  framesPerTurn: 144,
  rate: 24,
  direction: 'anticlockwise',
  startDeg: 0,
  ease: 'even',
}

/** A turntable as it begins: two turns, evenly, without keys. */
export const newTurn = (id: string, name: string, sheetId: string, motion: Partial<Motion> = {}): Turn => ({
  id,
  name,
  sheetId,
  motion: { ...STEADY, ...motion },
  camera: { push: [], raiseDeg: [], shiftX: [], shiftY: [], views: [] },
  reveals: [],
  tracks: [],
  marks: null,
  width: null,
  quality: 'good',
  isClear: false,
  grainEvery: 2,
  boilEvery: 0,
  shutter: 0,
  shutterSteps: 8,
})

/** How large its frames are. Their sides are even, as films have them; frames as large as the sheet are as that is. */
export function frameSize({ width }: Pick<Turn, 'width'>, sheet: Frame): Frame {
  if (width === null || width === sheet.width) return { width: sheet.width, height: sheet.height }
  const even = (side: number): number => Math.max(16, 2 * Math.round(side / 2))
  return { width: even(width), height: even((width * sheet.height) / sheet.width) }
}

/** How many frames there are: the one after the last is the first again, and is not one of them. */
export const frameCount = ({ turns, framesPerTurn }: Motion): number => turns * framesPerTurn
export const seconds = (motion: Motion): number => frameCount(motion) / motion.rate
