import type { Draft } from 'immer'
import { current } from 'immer'
import type { LaneKey } from '@/core/turn/key-editing'
import { layerOfTrack, samePath } from '@/core/turn/keyable'
import { presentationLabels, presented, type PresentationName } from '@/core/turn/presentation'
import { readyRevealLabels, readyReveals, type ReadyReveals } from '@/core/turn/ready-reveals'
import { retimed } from '@/core/turn/retimed'
import {
  frameCount,
  newTurn,
  type CameraLane,
  type Motion,
  type Reveal,
  type RevealKind,
  type Turn,
} from '@/core/turn/turn-schema'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { insertNode } from '@/core/sheet/sheet-tree'
import type { Track } from '@/core/sheet/tracks'
import { activeSheet } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import type { Project } from '@/data/project-schema'
import { changeProject, recordInProject, useProjectStore } from './project-store'
import { setBench, useViewStore } from './view-store'

/** What can be done to turntables. Each is one undo step. */

/** The turntable at work: the one looked at last, or the first; null where there is none. */
export function activeTurn(project: Pick<Project, 'turns'>, turnId: string | null): Turn | null {
  return project.turns.find(({ id }) => id === turnId) ?? project.turns.at(0) ?? null
}

const now = (): Turn | null => {
  const { project } = useProjectStore.getState()
  return project && activeTurn(project, useViewStore.getState().turnId)
}

/** Changes the turntable at work. */
export function changeTurn(label: string, apply: (turn: Draft<Turn>) => void, merge?: string): void {
  const id = now()?.id
  changeProject(
    label,
    (draft) => {
      const turn = draft.turns.find((own) => own.id === id)
      if (turn) apply(turn)
    },
    merge,
  )
}

const freeName = (taken: readonly string[], name: string): string => {
  if (!taken.includes(name)) return name
  for (let n = 2; ; n++) if (!taken.includes(`${name} ${n}`)) return `${name} ${n}`
}

/** Begins a turntable of the sheet at work. */
export function addTurn(): void {
  const id = newId()
  changeProject('new turntable', (draft) => {
    const taken = draft.turns.map(({ name }) => name)
    draft.turns.push(newTurn(id, freeName(taken, 'Turntable'), activeSheet(draft).id) as Draft<Turn>)
  })
  setBench({ turnId: id, turnFrame: 0, laneId: null })
}

/** A copy of the turntable at work, which is then the one at work. */
export function copyTurn(): void {
  const turn = now()
  if (!turn) return
  const id = newId()
  changeProject('copy a turntable', (draft) => {
    const taken = draft.turns.map(({ name }) => name)
    draft.turns.push({ ...structuredClone(turn), id, name: freeName(taken, turn.name) } as Draft<Turn>)
  })
  setBench({ turnId: id })
}

export function removeTurn(): void {
  const turn = now()
  changeProject('remove a turntable', (draft) => {
    draft.turns = draft.turns.filter(({ id }) => id !== turn?.id)
  })
  setBench({ turnId: null, turnFrame: 0, laneId: null })
}

export const renameTurn = (name: string): void =>
  changeTurn('rename a turntable', (turn) => void (turn.name = name))

/** Goes to the sheet that a turntable shows: no decision, and no step of undo. */
export const goToTurn = ({ sheetId }: Pick<Turn, 'sheetId'>): void =>
  recordInProject((draft) => {
    const sheet = draft.sheets.find(({ id }) => id === sheetId)
    if (!sheet) return
    draft.shotId = sheet.shotId
    const shot = draft.shots.find(({ id }) => id === sheet.shotId)
    if (shot) shot.sheetId = sheet.id
  })

/** Shows another sheet; reveals and keys of layers that it does not have stay, and do nothing. */
export const setTurnSheet = (sheetId: string): void => {
  changeTurn('sheet of a turntable', (turn) => void (turn.sheetId = sheetId))
  const turn = now()
  if (turn) goToTurn(turn)
}

/** Changes how it moves; everything in time keeps its place in the turns. */
export const changeMotion = (label: string, patch: Partial<Motion>): void =>
  changeTurn(
    label,
    (turn) => {
      const before = current(turn) as Turn
      Object.assign(turn, retimed(before, { ...before.motion, ...patch }))
    },
    `motion ${label}`,
  )

// ------------------------------------------------------------------ reveals

/** Lets layers come in as one press has it; reveals that they had before give way. @returns whether there is a layer for it. */
export function addReadyReveals(name: ReadyReveals): boolean {
  const { project } = useProjectStore.getState()
  const turn = now()
  const sheet = project?.sheets.find(({ id }) => id === turn?.sheetId)
  if (!project || !turn || !sheet) return false
  const kindOf = (passId: string) => project.passes.find(({ id }) => id === passId)?.kind ?? null
  const made = readyReveals(name, sheet, turn.motion, kindOf, newId)
  if (made.length === 0) return false
  const ids = new Set(made.map(({ layerId }) => layerId))
  changeTurn(readyRevealLabels[name].toLowerCase(), (own) => {
    own.reveals = [...own.reveals.filter(({ layerId }) => !ids.has(layerId)), ...(made as Draft<Reveal>[])]
  })
  setBench({ laneId: made[0].layerId })
  return true
}

/** Lets a layer come in: over half a turn from where the playhead is, and go at the end. */
export function addReveal(layerId: string, kind: RevealKind): void {
  const turn = now()
  if (!turn) return
  const count = frameCount(turn.motion)
  const half = Math.max(1, Math.round(turn.motion.framesPerTurn / 2))
  const from = Math.max(0, Math.min(useViewStore.getState().turnFrame, count - half - 1))
  const whole = Math.min(count, from + half)
  const goes = Math.max(whole, Math.round(count - turn.motion.framesPerTurn / 8))
  changeTurn('let a layer come in', (own) => {
    own.reveals.push({
      id: newId(),
      layerId,
      kind,
      from,
      whole,
      goes,
      gone: count,
      ease: 'slow both',
      angleDeg: -13,
      softness: 0.04,
      centre: [0.5, 0.5],
      parts: [],
    })
  })
}

export const changeReveal = (
  id: string,
  label: string,
  apply: (reveal: Draft<Reveal>) => void,
  merge?: string,
): void =>
  changeTurn(
    label,
    (turn) => {
      const reveal = turn.reveals.find((own) => own.id === id)
      if (reveal) apply(reveal)
    },
    merge && `${merge} ${id}`,
  )

export const removeReveal = (id: string): void =>
  changeTurn('layer is there from the first', (turn) => {
    turn.reveals = turn.reveals.filter((own) => own.id !== id)
  })

/** Moments of a reveal: which of them a handle is of. */
export const MOMENTS = ['from', 'whole', 'goes', 'gone'] as const
export type Moment = (typeof MOMENTS)[number]

/** Sets a moment of a reveal; the others give way, so that they stay in order. */
export function setMoment(reveal: Draft<Reveal>, moment: Moment, frame: number, last: number): void {
  const at = Math.min(last, Math.max(0, Math.round(frame)))
  const i = MOMENTS.indexOf(moment)
  MOMENTS.forEach((name, k) => {
    const value = reveal[name]
    if (value === null) return
    if (k === i) reveal[name] = at
    else if (k < i) reveal[name] = Math.min(value, at)
    else reveal[name] = Math.max(value, at)
  })
}

// ------------------------------------------------------------------ keys

/** Puts keys in the place of those that a value of the sheet has; without any it has no track. */
export const setKeys = (path: Track['path'], keys: Track['keys'], label: string, merge?: string): void =>
  changeTurn(
    label,
    (turn) => {
      const i = turn.tracks.findIndex((track) => samePath(track.path, path))
      if (keys.length === 0) turn.tracks = turn.tracks.filter((_, k) => k !== i)
      else if (i < 0) turn.tracks.push({ path: [...path], keys: structuredClone(keys) })
      else turn.tracks[i].keys = structuredClone(keys)
    },
    merge && `${merge} ${path.join()}`,
  )

/** Puts keys in the place of those of a lane of the camera. */
export const setCameraKeys = (
  lane: CameraLane,
  keys: readonly LaneKey<number>[],
  label: string,
  merge?: string,
): void =>
  changeTurn(
    label,
    (turn) => void (turn.camera[lane] = structuredClone([...keys]) as Draft<Turn>['camera'][CameraLane]),
    merge && `${merge} ${lane}`,
  )

/** Kept views that the camera goes through. */
export const setViewKeys = (keys: readonly LaneKey<string>[], label: string): void =>
  changeTurn(label, (turn) => {
    turn.camera.views = structuredClone([...keys]) as Draft<Turn>['camera']['views']
  })

/** Everything in time of a layer goes. */
export const clearLane = (layerId: string): void =>
  changeTurn('clear a lane', (turn) => {
    turn.reveals = turn.reveals.filter((own) => own.layerId !== layerId)
    turn.tracks = turn.tracks.filter((track) => layerOfTrack(track as Track) !== layerId)
  })

/** Adds what a turntable is presented with: layers that the still hides, and what lets them come in. One undo step. */
export function addPresentation(name: PresentationName): void {
  const { project } = useProjectStore.getState()
  const turn = now()
  const sheet = project?.sheets.find(({ id }) => id === turn?.sheetId)
  if (!project || !turn || !sheet) return
  const frame = useViewStore.getState().turnFrame
  const { layers, lies, reveal } = presented(name, sheet, turn.motion, frame, project.name, newId)
  changeProject(presentationLabels[name].toLowerCase(), (draft) => {
    const own = draft.sheets.find(({ id }) => id === sheet.id)
    const at = draft.turns.find(({ id }) => id === turn.id)
    if (!own || !at) return
    const [first, ...rest] = layers as Draft<SheetNode>[]
    const hindmost = own.nodes[own.roots[0]] as SheetNode | undefined
    const index = lies === 'front' ? Infinity : hindmost?.content.kind === 'fill' ? 1 : 0
    insertNode(own, first, { parent: null, index })
    for (const node of rest) own.nodes[node.id] = node
    at.reveals.push(reveal as Draft<Reveal>)
  })
  setBench({ laneId: reveal.layerId })
}
