'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import { hasContent, type SheetNode } from '@/core/sheet/sheet-schema'
import { frameCount, type Turn } from '@/core/turn/turn-schema'
import { passKind } from '@/core/passes/registry'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { activeSheet } from '@/data/active-shot'
import { useActions } from '@/state/actions'
import { activeTurn, addTurn, clearLane, goToTurn } from '@/state/turn-actions'
import { pauseTurn, renderTurn, useTurnJob } from '@/state/turn-render'
import { setBench, useViewStore } from '@/state/view-store'
import { InspectorWithFoot } from '@/ui/inspector-with-foot'
import { useOpenProject } from '@/ui/open-project'
import { CameraSection } from './camera-section'
import { FilmDialog } from './film-dialog'
import { FramesFoot, FramesSection } from './frames-section'
import { KeysSection } from './keys-section'
import { MotionSection } from './motion-section'
import { ReadySection } from './ready-section'
import { RevealSection } from './reveal-section'
import { SequenceSection } from './sequence-section'
import { TurnBar } from './turn-bar'
import { TurnHead } from './turn-head'
import { TurnDial } from './turn-dial'
import { CAMERA, setMarks, TurnLanes } from './turn-lanes'
import { TurnStage } from './turn-stage'
import { TurntableStepStyles } from './turntable-step-styles'
import { useTurnPlan } from './use-turn-plan'
import { WordsSection } from './words-section'
import { OVER, overLabels, useTurnPlayer, type Over } from './use-turn-player'

/** The picture in motion: how the shot turns, how the stack comes and goes with it, and the frames of it. */
export function TurntableStep() {
  const project = useOpenProject()
  const turnId = useViewStore((s) => s.turnId)
  const turn = activeTurn(project, turnId)
  const sheet = turn && project.sheets.find(({ id }) => id === turn.sheetId)
  const isOther = sheet !== null && sheet !== undefined && activeSheet(project).id !== sheet.id
  useEffect(() => {
    if (turn && isOther) goToTurn(turn)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- which sheet it shows is all that matters
  }, [turn?.sheetId, isOther])
  if (!turn || !sheet) return <NoTurn project={project} />
  return <TurnAtWork key={turn.id} project={project} turn={turn} sheet={sheet} />
}

/** What this step is for, before there is a turntable. */
function NoTurn({ project }: { readonly project: Project }) {
  const hasLayers = activeSheet(project).roots.length > 0
  return (
    <div className="empty">
      <TurntableStepStyles />
      <h2 className="display">No turntable yet</h2>
      <p>
        A turntable sets a sheet in motion: its shot turns, and every layer of its stack with it. Layers fade
        in or sweep across, a contour draws itself, the camera pushes in; it closes without a jump, and leaves
        as a film or as numbered pictures.
      </p>
      <Button variant="contained" onClick={addTurn} data-testid="begin-turn">
        Turn the sheet at work
      </Button>
      {!hasLayers && (
        <p className="quiet">
          Its sheet is still empty: <Link href={`/project/${project.id}/sheet`}>hang layers first</Link>.
        </p>
      )}
    </div>
  )
}

interface TurnAtWorkProps {
  readonly project: Project
  readonly turn: Turn
  readonly sheet: ProjectSheet
}

function TurnAtWork({ project, turn, sheet }: TurnAtWorkProps) {
  const frame = useViewStore((s) => s.turnFrame)
  const laneId = useViewStore((s) => s.laneId)
  const job = useTurnJob((s) => s.job)
  const [isPingPong, setPingPong] = useState(false)
  const [over, setOver] = useState<Over>('nothing')
  const [isExporting, setExporting] = useState(false)
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const plan = useTurnPlan(project, turn)
  const player = useTurnPlayer(canvasRef, turn, plan, { isPingPong, over })
  const count = frameCount(turn.motion)
  useEffect(() => {
    if (frame >= count) setBench({ turnFrame: 0 })
  }, [frame, count])
  const { pause, seek } = player
  const go = useCallback(
    (next: number) => {
      const turnFrame = ((next % count) + count) % count
      pause()
      seek(turnFrame)
      setBench({ turnFrame })
    },
    [pause, seek, count],
  )
  const openExport = useCallback(() => setExporting(true), [])
  const layer = laneId === null ? undefined : (sheet.nodes[laneId] as SheetNode | undefined)
  const shot = project.shots.find(({ id }) => id === sheet.shotId) ?? project.shots[0]
  const isWorking = job?.turnId === turn.id && job.state !== 'paused'
  const [from, to] = turn.marks ?? [0, count]
  useActions('Turntable', [
    { id: 'play', label: player.isPlaying ? 'Stop' : 'Play', keys: 'Space', run: player.togglePlay },
    { id: 'next', label: 'Next frame', keys: 'ArrowRight', run: () => go(frame + 1) },
    { id: 'back', label: 'Frame before', keys: 'ArrowLeft', run: () => go(frame - 1) },
    { id: 'next-ten', label: 'Ten frames on', keys: 'Shift+ArrowRight', run: () => go(frame + 10) },
    { id: 'back-ten', label: 'Ten frames back', keys: 'Shift+ArrowLeft', run: () => go(frame - 10) },
    { id: 'first', label: 'First frame', keys: 'Home', run: () => go(0) },
    { id: 'last', label: 'Last frame', keys: 'End', run: () => go(count - 1) },
    {
      id: 'begin',
      label: 'Play from here',
      keys: 'b',
      run: () => setMarks([frame, Math.max(frame + 1, to)]),
    },
    {
      id: 'end',
      label: 'Play up to here',
      keys: 'e',
      run: () => setMarks([Math.min(from, frame), frame + 1]),
    },
    { id: 'all', label: 'Play all of it', run: () => setMarks(null) },
    {
      id: 'ping-pong',
      label: isPingPong ? 'Play round and round' : 'Play there and back',
      run: () => setPingPong(!isPingPong),
    },
    ...OVER.map((own) => ({ id: `over-${own}`, label: `See: ${overLabels[own]}`, run: () => setOver(own) })),
    {
      id: 'render',
      label: isWorking ? 'Pause rendering the frames' : 'Render the frames',
      keys: 'r',
      run: () => (isWorking ? pauseTurn() : renderTurn(turn.id)),
    },
    { id: 'film', label: 'Export the film', run: () => setExporting(true) },
    { id: 'no-lane', label: 'Choose no lane', keys: 'Escape', run: () => setBench({ laneId: null }) },
    ...(layer
      ? [{ id: 'clear-lane', label: `Clear the lane of ${layer.name}`, run: () => clearLane(layer.id) }]
      : []),
    { id: 'new-turn', label: 'New turntable of this sheet', run: addTurn },
  ])
  const pass =
    layer?.content.kind === 'pass'
      ? project.passes.find(({ id }) => layer.content.kind === 'pass' && id === layer.content.passId)
      : undefined
  return (
    <div className="turn-step">
      <TurntableStepStyles />
      <TurnStage
        project={project}
        turn={turn}
        sheet={sheet}
        plan={plan}
        player={player}
        canvasRef={canvasRef}
        over={over}
      />
      <div className="turn-bench">
        <TurnBar
          turn={turn}
          frame={frame}
          player={player}
          isPingPong={isPingPong}
          onPingPong={setPingPong}
          over={over}
          onOver={setOver}
          onFrame={go}
        >
          <TurnDial motion={turn.motion} frame={frame} onFrame={go} />
        </TurnBar>
        <TurnLanes turn={turn} sheet={sheet} plan={plan} onFrame={go} />
      </div>
      <InspectorWithFoot
        foot={<FramesFoot project={project} turn={turn} plan={plan} onExport={openExport} />}
      >
        {layer ? (
          <>
            <div className="inspector-head">
              <h2 className="display">{layer.name}</h2>
              <span className="quiet">in time</span>
            </div>
            {hasContent(layer, 'type') && (
              <WordsSection project={project} layerId={layer.id} content={layer.content} />
            )}
            {hasContent(layer, 'picture') && layer.content.sequence && (
              <SequenceSection
                project={project}
                turn={turn}
                layerId={layer.id}
                content={layer.content}
                sequence={layer.content.sequence}
              />
            )}
            <RevealSection
              project={project}
              turn={turn}
              layer={layer}
              hasLines={pass !== undefined && passKind(pass.kind).lines !== null}
            />
            <KeysSection project={project} turn={turn} sheet={sheet} layer={layer} />
          </>
        ) : laneId === CAMERA ? (
          <>
            <div className="inspector-head">
              <h2 className="display">Camera</h2>
              <span className="quiet">besides turning</span>
            </div>
            <CameraSection turn={turn} shot={shot} />
          </>
        ) : (
          <TurnHead project={project} turn={turn} />
        )}
        <ReadySection />
        <MotionSection project={project} turn={turn} />
        <FramesSection turn={turn} sheet={sheet} />
      </InspectorWithFoot>
      {isExporting && plan && <FilmDialog turn={turn} plan={plan} onClose={() => setExporting(false)} />}
    </div>
  )
}
