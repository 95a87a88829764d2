import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { BrokenWorkerError } from '@/core/errors'
import { newLayer, wholePicture } from '@/core/sheet/new-layer'
import { insertNode } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import { newProject } from '@/data/new-project'
import { createProject, saveFile } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import type { SheetRequest } from '@/engine/sheet-requests'
import { askSheet } from './sheet-sync'

/** Sheet workers of a browser that does not compose: what each was given, and when it is to end. */
class StubWorker {
  static all: StubWorker[] = []
  /** How many more workers end by themselves when they are asked for a picture. */
  static weak = 0

  readonly asked: SheetRequest['type'][] = []
  isTerminated = false
  private readonly listeners: Record<string, ((event: object) => void)[]> = {}

  constructor() {
    StubWorker.all.push(this)
  }
  addEventListener(type: string, listener: (event: object) => void): void {
    ;(this.listeners[type] ??= []).push(listener)
  }
  terminate(): void {
    this.isTerminated = true
  }
  postMessage(message: SheetRequest): void {
    this.asked.push(message.type)
    queueMicrotask(() => {
      if (message.type !== 'snapshot')
        this.tell('message', { data: { type: 'done', request: message.request } })
      else if (StubWorker.weak > 0) {
        StubWorker.weak--
        this.tell('error', { message: 'out of memory' })
      } else {
        const data = { type: 'file', request: message.request, bytes: Uint8Array.of(1) }
        this.tell('message', { data })
      }
    })
  }
  private tell(type: string, event: object): void {
    for (const listener of this.listeners[type] ?? []) listener(event)
  }
}

async function projectWithPicture(): Promise<Project> {
  const project = newProject('Harbour wall')
  await createProject(project)
  await saveFile(project.id, 'file', 'wall.png', Uint8Array.of(1, 2, 3))
  const layer = newLayer({ id: 'wall', name: 'wall', content: wholePicture('picture') })
  const sheet = structuredClone(activeSheet(project))
  insertNode(sheet, layer, { parent: null, index: 0 })
  return {
    ...project,
    pictures: [{ id: 'picture', name: 'wall.png', fileId: 'file' }],
    sheets: project.sheets.map((one) => (one.id === sheet.id ? sheet : one)),
  }
}
const compose = (project: Project) =>
  askSheet(project, (worker) => worker.snapshot(null, { width: 1, height: 1 }))

beforeEach(() => {
  StubWorker.all = []
  vi.stubGlobal('Worker', StubWorker)
})
afterEach(() => void vi.unstubAllGlobals())

describe('a sheet worker that ends by itself', () => {
  it('is followed by another, which is given everything and asked again', async () => {
    StubWorker.weak = 1
    const project = await projectWithPicture()
    const [first, second] = await Promise.all([compose(project), compose(project)])
    expect([first, second]).toEqual([Uint8Array.of(1), Uint8Array.of(1)])
    const [broken, next] = StubWorker.all
    expect(StubWorker.all).toHaveLength(2)
    expect(broken.isTerminated).toBe(true)
    // The picture once, and what was asked of the first.
    expect(next.asked).toEqual(['picture', 'sheet', 'snapshot', 'snapshot'])
    await compose(project)
    expect(next.asked.slice(4)).toEqual(['snapshot'])
    // What changed since is all that it is told.
    await compose({
      ...project,
      sheets: project.sheets.map((sheet) => ({ ...sheet, background: '#123456' })),
    })
    expect(next.asked.slice(5)).toEqual(['patch', 'snapshot'])
  })
  it('is told of when the one after it ends too, and the next request begins anew', async () => {
    StubWorker.weak = 2
    const project = await projectWithPicture()
    await expect(compose(project)).rejects.toThrow(new BrokenWorkerError('out of memory'))
    expect(await compose(project)).toEqual(Uint8Array.of(1))
    expect(StubWorker.all).toHaveLength(3)
  })
})
