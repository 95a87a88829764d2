import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { database } from '@/data/database'
import { newProject } from '@/data/new-project'
import { createProject } from '@/data/project-repository'

const brought = vi.hoisted((): string[] => [])
vi.mock('@/data/storage-service', () => ({
  importArchive: (_file: Blob, name: string) =>
    Promise.resolve(brought.push(name) && name.replace('.zip', '')),
}))
vi.mock('./thumbnail', () => ({ makeThumbnail: () => Promise.resolve() }))

/** As it is where the application was loaded anew. */
const started = async () => {
  vi.resetModules()
  const { firstStart } = await import('./first-start')
  return firstStart()
}

describe('the first start', () => {
  beforeEach(async () => {
    brought.length = 0
    await Promise.all([database.projects.clear(), database.settings.clear()])
    vi.stubGlobal('navigator', {})
    vi.stubGlobal('fetch', () => Promise.resolve(new Response('demo')))
  })

  it('brings in the demo, once', async () => {
    expect(await started()).toBeNull()
    expect(brought).toEqual(['low-water.zip', 'brass-gauge.zip'])
    expect(await started()).toBeNull()
    expect(brought).toHaveLength(2)
  })
  it('that was left early brings in what is not there yet', async () => {
    await createProject({ ...newProject('Low Water'), id: 'low-water' })
    expect(await started()).toBeNull()
    expect(brought).toEqual(['brass-gauge.zip'])
  })
  it('says what is wrong where the server is away, and tries it again', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(new Response('', { status: 503 })))
    expect(await started()).toMatch(/could not be brought in: the server answered 503/)
    vi.stubGlobal('fetch', () => Promise.resolve(new Response('demo')))
    expect(await started()).toBeNull()
    expect(brought).toHaveLength(2)
  })
})
