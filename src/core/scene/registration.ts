import { z } from 'zod'
import { hashJson } from '../math/stable-hash'
import type { Camera, Frame } from './camera'
import { roleNow, type PartRole } from './part-role'
import type { Copies, Placement } from './placement'

/**
 * What ties all passes of a shot together. Kept with every pass; a pass is *in register* while the scene's
 * registration of now is equal. The parts are kept apart so that a difference can be named.
 */
export const registrationSchema = z.object({
  camera: z.string(),
  lens: z.string(),
  frame: z.string(),
  /** Per model: a hash of its geometry, one of its placement, and the roles of its parts. */
  models: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      geometry: z.string(),
      placement: z.string(),
      roles: z.array(z.object({ key: z.string(), role: z.string() })),
    }),
  ),
})
export type Registration = z.infer<typeof registrationSchema>

export interface RegisteredModel {
  readonly id: string
  readonly name: string
  readonly geometryHash: string
  readonly placement: Placement
  readonly copies: Copies
  readonly parts: readonly { readonly key: string; readonly role: PartRole; readonly hidden?: boolean }[]
}

/** Rounded so that a value that went through a slider or a file and back is the same value. */
const rounded = (v: number): number => Number(v.toPrecision(9))

/** What is left at its default is left out, so that passes rendered before there was such a thing stay in register. */
function lensHash(camera: Camera): string {
  const plain = [rounded(camera.fovDeg), camera.orthoHeight === null ? null : rounded(camera.orthoHeight)]
  const { rollDeg = 0, shift = [0, 0], keepVerticals = false } = camera
  const more = [rounded(rollDeg), ...shift.map(rounded), keepVerticals]
  return hashJson(more.every((v) => !v) ? plain : [...plain, ...more])
}

/** See {@link lensHash}: a model that is only turned and evenly scaled hashes as it always did. */
function placementHash({ position, rotationDeg, scale }: Placement, copies: Copies): string {
  const [tilt, turn, roll] = rotationDeg.map(rounded)
  const plain = [position.map(rounded), turn, rounded(scale[0])]
  const even = scale[0] === scale[1] && scale[1] === scale[2]
  if (tilt === 0 && roll === 0 && even && copies.kind === 'one') return hashJson(plain)
  return hashJson([...plain, tilt, roll, scale.map(rounded), copies])
}

export function makeRegistration(
  camera: Camera,
  frame: Frame,
  models: readonly RegisteredModel[],
): Registration {
  return {
    camera: hashJson([camera.eye.map(rounded), camera.target.map(rounded)]),
    lens: lensHash(camera),
    frame: `${frame.width} × ${frame.height}`,
    models: models.map((model) => ({
      id: model.id,
      name: model.name,
      geometry: model.geometryHash,
      placement: placementHash(model.placement, model.copies),
      roles: model.parts.map((part) => ({ key: part.key, role: roleNow(part) })),
    })),
  }
}

/** One short hash for a whole registration. */
export const registrationHash = (registration: Registration): string =>
  hashJson({ ...registration, models: registration.models.map(({ name: _name, ...rest }) => rest) })

/**
 * What moved between the registration a pass was made with and the one of now, as short phrases; empty when in
 * register.
 * @param partName gives a part's current name by key.
 */
export function registrationDifferences(
  made: Registration,
  now: Registration,
  partName: (key: string) => string = (key) => key,
): string[] {
  const reasons: string[] = []
  if (made.frame !== now.frame) reasons.push(`picture size changed from ${made.frame} to ${now.frame}`)
  if (made.camera !== now.camera) reasons.push('camera moved')
  if (made.lens !== now.lens) reasons.push('lens changed')
  const before = new Map(made.models.map((m) => [m.id, m]))
  for (const model of now.models) {
    const old = before.get(model.id)
    before.delete(model.id)
    if (!old) {
      reasons.push(`${model.name} added`)
      continue
    }
    if (old.geometry !== model.geometry) reasons.push(`${model.name} has new geometry`)
    if (old.placement !== model.placement) reasons.push(`${model.name} moved`)
    const roleBefore = new Map(old.roles.map((r) => [r.key, r.role]))
    const changed = model.roles.filter((r) => roleBefore.has(r.key) && roleBefore.get(r.key) !== r.role)
    if (changed.length > 3) reasons.push(`${changed.length} parts changed role`)
    else for (const part of changed) reasons.push(`${partName(part.key)} is now ${part.role}`)
  }
  for (const gone of before.values()) reasons.push(`${gone.name} removed`)
  return reasons
}
