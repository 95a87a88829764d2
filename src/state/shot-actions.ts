import type { Draft } from 'immer'
import { current } from 'immer'
import { framePoints, type Camera, type Frame } from '@/core/scene/camera'
import type { CameraMove, CameraMoveKind } from '@/core/scene/camera-move'
import { mostDpi, sizeInPixels, sizeOf } from '@/core/scene/picture-size'
import { hasSize, resizeSheet } from '@/core/sheet/resize-sheet'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { activeShot } from '@/data/active-shot'
import { newId, newSheet } from '@/data/new-project'
import type { Project, ProjectPass, Shot } from '@/data/project-schema'
import { changeProject, recordInProject, useProjectStore } from './project-store'
import { subjectExtent } from './subject-extent'
import { useMeshStore } from './mesh-store'
import { setBench } from './view-store'

/** What can be done to shots. Each is one undo step, but for going to another shot. A locked shot keeps its composition. */

/** What a lock holds: that by which all passes of a shot are in register, and what would move it. */
type Composed = 'camera' | 'frame' | 'dpi' | 'margin'

/**
 * Changes the shot at work, but for its composition, which is {@link composeShot}'s.
 * @param merge equal keys in quick succession make one step.
 */
export const changeShot = (
  label: string,
  apply: (shot: Omit<Draft<Shot>, Composed | 'locked'> & Readonly<Pick<Shot, Composed | 'locked'>>) => void,
  merge?: string,
): void => changeProject(label, (draft) => apply(activeShot(draft)), merge)

/**
 * Changes how the shot at work is composed. A locked shot stands, whoever asks: that is said instead.
 * @returns false where it is locked.
 */
export function composeShot(
  label: string,
  apply: (shot: Draft<Shot>, draft: Draft<Project>) => void,
  merge?: string,
): boolean {
  const { project } = useProjectStore.getState()
  if (!project) return false
  if (activeShot(project).locked) {
    setBench({ lockRefused: true })
    return false
  }
  changeProject(label, (draft) => apply(activeShot(draft), draft), merge)
  return true
}

/** Locks the shot at work, or unlocks it. */
export const lockShot = (locked: boolean): void =>
  changeProject(locked ? 'lock shot' : 'unlock shot', (draft) => void (activeShot(draft).locked = locked))

export const setCamera = (label: string, camera: Camera, merge?: string): boolean =>
  composeShot(label, (shot) => void (shot.camera = camera as Draft<Camera>), merge)

/** Goes to another shot; its passes and its sheet come with it. */
export const goToShot = (shotId: string): void => recordInProject((draft) => void (draft.shotId = shotId))

/** "Shot 3", one higher than any there is. */
function nextShotName(project: Pick<Project, 'shots'>): string {
  const taken = new Set(project.shots.map((shot) => shot.name))
  for (let n = project.shots.length + 1; ; n++) if (!taken.has(`Shot ${n}`)) return `Shot ${n}`
}

/**
 * A new shot that begins as the one at work, unlocked, with passes and a sheet of its own.
 * @param camera to begin with instead.
 */
export function addShotFromHere(camera?: Camera): void {
  changeProject('new shot from here', (draft) => {
    const from = activeShot(draft)
    const shot: Draft<Shot> = {
      ...(structuredClone(current(from)) as Draft<Shot>),
      id: newId(),
      name: nextShotName(draft),
      sheetId: newId(),
      locked: false,
    }
    if (camera) shot.camera = camera as Draft<Camera>
    const passes = draft.passes.filter((p) => p.shotId === from.id)
    draft.shots.push(shot)
    draft.passes.push(
      ...passes.map((pass) => ({
        ...(structuredClone(current(pass)) as Draft<ProjectPass>),
        id: newId(),
        shotId: shot.id,
        rendered: null,
      })),
    )
    const sheet = newSheet(shot.name.replace('Shot', 'Sheet'), shot)
    draft.sheets.push(sheet as Draft<typeof sheet>)
    draft.shotId = shot.id
  })
}

/** Removes the shot at work with its passes and its sheet; the last one stays. */
export function removeShot(): void {
  changeProject('remove shot', (draft) => {
    if (draft.shots.length < 2) return
    const { id } = activeShot(draft)
    const at = draft.shots.findIndex((shot) => shot.id === id)
    draft.shots.splice(at, 1)
    draft.passes = draft.passes.filter((pass) => pass.shotId !== id)
    draft.sheets = draft.sheets.filter((sheet) => sheet.shotId !== id)
    draft.turns = draft.turns.filter(({ sheetId }) => draft.sheets.some((sheet) => sheet.id === sheetId))
    draft.posters = draft.posters.filter((poster) =>
      draft.sheets.some(({ page }) => page?.posterId === poster.id),
    )
    draft.shotId = draft.shots[Math.max(0, at - 1)].id
  })
}

/**
 * Gives the shot at work another picture size. Its sheet follows where it had the shot's size until then; one of its own
 * size stays, and says that it differs.
 * @param dpi what the size was measured with, where it is one on paper.
 */
export const setFrame = (frame: Frame, merge?: string, dpi?: number): boolean =>
  composeShot(
    'picture size',
    (shot, draft) => {
      const before = { ...shot.frame }
      shot.frame = { ...frame }
      if (dpi !== undefined) shot.dpi = dpi
      for (const sheet of draft.sheets)
        if (sheet.shotId === shot.id && hasSize(sheet, before)) resizeSheet(sheet as Draft<Sheet>, frame)
    },
    merge,
  )

/** Says with how many dots an inch the picture is printed. A size on paper keeps to its paper, as far as it can. */
export function setDpi(dpi: number): boolean {
  const { project } = useProjectStore.getState()
  if (!project) return false
  const { frame, dpi: before } = activeShot(project)
  const paper = sizeOf(frame, before)
  if (!paper || paper.size.unit === 'px') return composeShot('dpi', (shot) => void (shot.dpi = dpi), 'dpi')
  const fitting = Math.min(dpi, mostDpi(paper.size))
  return setFrame(sizeInPixels(paper.size, fitting, paper.across), 'dpi', fitting)
}

/** Fits the subject into the shot, seen from a side; from where it is seen now where none is given. */
export function frameSubject(
  azimuthDeg: number,
  elevationDeg: number,
  label = 'frame the subject',
  margin?: number,
): boolean {
  const { project } = useProjectStore.getState()
  if (!project) return false
  const { models } = useMeshStore.getState()
  const extent = subjectExtent(project, (id) => models[id]?.outline)
  if (!extent) return false
  const shot = activeShot(project)
  const { eye: _eye, target: _target, ...lens } = shot.camera
  return setCamera(
    label,
    framePoints(extent.points, azimuthDeg, elevationDeg, shot.frame, lens, margin ?? shot.margin),
  )
}

export function keepView(name?: string): void {
  changeShot('keep this view', (shot) => {
    shot.views.push({
      id: newId(),
      name: name ?? `View ${shot.views.length + 1}`,
      camera: { ...shot.camera } as Draft<Camera>,
    })
  })
}

const MOVE_NAMES: Readonly<Record<CameraMoveKind, string>> = {
  spin: 'Spin the subject',
  circle: 'Circle the camera',
  push: 'Push in',
  between: 'From view to view',
}

/** A move as it begins. @param views the two ends of one between views. */
export function newMove(kind: CameraMoveKind, views: readonly Camera[]): CameraMove {
  const common = { id: newId(), name: MOVE_NAMES[kind], seconds: 6, easing: 'even' as const }
  switch (kind) {
    case 'spin':
      return { ...common, kind, turns: 1 }
    case 'circle':
      return { ...common, kind, degrees: 360 }
    case 'push':
      return { ...common, kind, easing: 'both', to: 0.6 }
    case 'between':
      return { ...common, kind, easing: 'both', from: views[0], to: views[1] ?? views[0] }
  }
}
