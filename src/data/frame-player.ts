import { z } from 'zod'
import type { Film } from './frame-film'
import type { PlayerAsk, PlayerTold } from './frame-player-worker'

const toldSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('at'), frame: z.number(), dropped: z.number(), shown: z.number() }),
  z.object({ type: z.literal('shown'), frame: z.number() }),
  z.object({ type: z.literal('missing'), frame: z.number() }),
])

/** Frames of a turntable on a canvas, played beside the page. */
export class FramePlayer {
  private readonly worker = new Worker(new URL('./frame-player-worker.ts', import.meta.url), {
    type: 'module',
  })

  /** @param canvas moves to the worker. @param onTold where it is, and what it shows. */
  constructor(canvas: OffscreenCanvas, onTold: (told: PlayerTold) => void) {
    this.worker.onmessage = (event: MessageEvent<unknown>) => onTold(toldSchema.parse(event.data))
    this.ask({ type: 'canvas', canvas }, [canvas])
  }

  private ask(message: PlayerAsk, transfer: Transferable[] = []): void {
    this.worker.postMessage(message, transfer)
  }

  /** Says what is played; goes on playing where it was. */
  setFilm(projectId: string, film: Film, size: { readonly width: number; readonly height: number }): void {
    this.ask({ type: 'film', projectId, film: { ...film, names: [...film.names] }, ...size })
  }
  play(from: number): void {
    this.ask({ type: 'play', from })
  }
  pause(): void {
    this.ask({ type: 'pause' })
  }
  /** Shows a frame, and another over it. It is told whether it was there. */
  show(frame: number, over: number | null = null, by: 'ghost' | 'difference' = 'ghost'): void {
    this.ask({ type: 'show', frame, over, by })
  }
  close(): void {
    this.worker.terminate()
  }
}
