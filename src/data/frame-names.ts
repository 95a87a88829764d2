import { hashJson } from '@/core/math/stable-hash'
import { frameSheet } from '@/core/turn/frame-sheet'
import { posesAt, posesName } from '@/core/turn/turn-motion'
import { frameSize } from '@/core/turn/turn-schema'
import { sequencePictures } from './project-pictures'
import type { Project, ProjectPass, ProjectSheet } from './project-schema'
import { paintedFrom, worded } from './shown-sheets'
import { passesInFrame, type TurnStage } from './turn-frames'

/** What is made in another way than before is not taken for the same: counts up when frames come to look otherwise. */
export const MADE_BY = 3

const hashes = new WeakMap<object, string>()

/** A hash of something that never changes, worked out once. */
function hashOnce(value: object, told: () => unknown = () => value): string {
  const known = hashes.get(value)
  if (known !== undefined) return known
  const made = hashJson(told())
  hashes.set(value, made)
  return made
}

/** What of the models is seen in passes. */
const sceneKey = ({ models, groups }: Project): string =>
  hashJson([
    models.map((model) => [
      model.geometryHash,
      hashOnce(model.placement),
      hashOnce(model.copies),
      hashOnce(model.parts),
      hashOnce(model.materials),
    ]),
    hashOnce(groups),
  ])

/** A pass of the shot that turns by how it is rendered, one of another shot by what was. */
const passKey = (pass: ProjectPass, shotId: string): string =>
  pass.shotId === shotId
    ? hashOnce(pass, () => ({ ...pass, name: '', rendered: null }))
    : (pass.rendered?.resultId ?? '')

/** A sheet by what it shows: the same layers are hashed once, in however many frames they are. */
export function sheetKey(sheet: ProjectSheet): string {
  const { nodes, name: _name, ...rest } = sheet
  return hashJson([rest, Object.keys(nodes).map((id) => [id, hashOnce(nodes[id])])])
}

/**
 * Names frames of a turntable by all that they are made from: a frame whose name stays need not be made again, whatever else
 * was changed.
 * @returns the name of a frame.
 */
export function frameNames(stage: TurnStage): (frame: number) => string {
  const { project, turn, sheet, shot } = stage
  const common = hashJson([
    MADE_BY,
    sceneKey(project),
    project.rigs.map((rig) => hashOnce(rig)),
    [shot.id, shot.rigId, shot.frame],
    turn.quality,
    turn.isClear,
    frameSize(turn, sheet),
  ])
  return (frame) => {
    const now: ProjectSheet = { ...sheet, ...frameSheet(sheet, turn, frame, sequencePictures(project)) }
    const shown = paintedFrom(project, now).map((own) => sheetKey(worded(project, own)))
    const passes = passesInFrame(stage, frame).map((pass) => [pass.id, passKey(pass, shot.id)])
    return hashJson([common, posesName(posesAt(turn, stage.turned, frame)), shown, passes])
  }
}
