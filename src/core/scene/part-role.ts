import { z } from 'zod'

/**
 * What a part does in the picture: the *subject*; *ground* (floor, wall, room); *unseen* (not in the picture, still
 * throws shadows and occludes); or *off*.
 */
export const PART_ROLES = ['subject', 'ground', 'unseen', 'off'] as const
export const partRoleSchema = z.enum(PART_ROLES)
export type PartRole = z.infer<typeof partRoleSchema>

/** What a part does in the picture as it is now: its role, or *off* while it is hidden. Hiding leaves the role as it is. */
export const roleNow = (part: { readonly role: PartRole; readonly hidden?: boolean }): PartRole =>
  part.hidden ? 'off' : part.role

/** Whether the camera sees a part as it is now. */
export const isSeen = (part: Parameters<typeof roleNow>[0]): boolean =>
  (roleMask(roleNow(part)) & SEEN_BY_CAMERA) !== 0

/** Triangle mask bits: what a ray of that kind may hit. */
export const SEEN_BY_CAMERA = 1
export const BLOCKS_LIGHT = 2
/** The same without what lets light through. */
export const SOLID = { camera: 4, light: 8 } as const

/** Mask bits of a role, for a solid material; 0 leaves the part out altogether. */
export const roleMask = (role: PartRole): number =>
  ({
    subject: SEEN_BY_CAMERA | BLOCKS_LIGHT | SOLID.camera | SOLID.light,
    ground: SEEN_BY_CAMERA | BLOCKS_LIGHT | SOLID.camera | SOLID.light,
    unseen: BLOCKS_LIGHT | SOLID.light,
    off: 0,
  })[role]
