import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { FarmProcess } from '../cli/testing/farm-process'
import { unzipSync } from 'fflate'
import { violations } from './accessibility'
import { storedPlanes, storedProject } from './stored-project'
import { BenchPage } from './bench-page'

/** Frames of a turntable rendered by the studio's machine: sent, followed, taken over, given up. */
let page: BenchPage
let studio: FarmProcess
const store = mkdtempSync(path.join(tmpdir(), 'relief-studio-'))
beforeAll(async () => {
  studio = FarmProcess.begin('serve', '--store', store, '--port', '0', '--token', 'a word', '--threads', '2')
  process.env.RELIEF_STUDIO = (await studio.says(/http:\S+/)).trim()
  process.env.RELIEF_TOKEN = 'a word'
  // A server that is begun now: it is told the studio.
  page = await BenchPage.open({ ownsServer: true })
  await page.driver.get(page.address)
  await page.text('*', 'The Brass Gauge')
  await page.go('/project/brass-gauge/turntable')
  await page.choose('[data-testid=turn-quality]', 'draft')
})
afterAll(async () => {
  delete process.env.RELIEF_STUDIO
  delete process.env.RELIEF_TOKEN
  await page?.close()
  await studio?.end()
  rmSync(store, { recursive: true, force: true })
})

const there = async () =>
  Number((await (await page.css('[data-testid=frames-there]')).getText()).split(' ')[0])

describe('the studio', () => {
  it('renders frames, which come over as they are made, and is given up by keyboard', async () => {
    await page.click('[data-testid=render-studio]')
    await page.until('it is told how far it is', async () =>
      /At the studio: \d+ %/.test(await (await page.css('[data-testid=studio-told]')).getText()),
    )
    const before = await there()
    await page.until('frames come over', async () => (await there()) > before + 2, 240_000)
    await (await page.text('button', 'Give it up')).sendKeys(page.keys.ENTER)
    await page.until(
      'that is done',
      async () => (await page.driver.findElements({ css: '[data-testid=studio-told]' })).length === 0,
    )
    expect(await there()).toBeGreaterThan(before + 2)
    await page.until(
      'and the studio has ended it',
      async () => !studio.below.some(({ call }) => call.includes(' turn ')),
    )
  })
  it('renders passes: the same ones as here, with what they are told to take at either place', async () => {
    await page.go('/project/brass-gauge/passes')
    await page.css('[data-testid=where-studio]')
    /** Names of the tiles that its channels lie in, which say what they hold. */
    const tiles = async () => {
      await page.saved()
      const { passes } = await storedProject(page, 'brass-gauge')
      const resultId = passes.find(({ kind }) => kind === 'occlusion')?.rendered?.resultId ?? ''
      return { resultId, planes: await storedPlanes(page, `brass-gauge/${resultId}`) }
    }
    const render = async () => {
      const before = (await tiles()).resultId
      await page.click('[data-testid=one-draft]')
      await page.until('another result is there', async () => (await tiles()).resultId !== before)
      return (await tiles()).planes
    }
    // Occlusion has rays by chance: that it is the same is no matter of course.
    await page.click('[data-testid=pass-occlusion]')
    await page.click('[data-testid=where-here]')
    const here = await render()
    const jobs = readdirSync(path.join(store, 'jobs')).length
    await page.click('[data-testid=where-studio]')
    expect(await render()).toBe(here)
    expect(here.length).toBeGreaterThan(100)
    // It worked for it.
    expect(readdirSync(path.join(store, 'jobs'))).toHaveLength(jobs + 1)
    expect(await violations(page)).toEqual([])
  })
  it('separates parts: the same files as here', async () => {
    await page.go('/project/brass-gauge/export')
    await page.choose('[data-testid=separate-quality]', 'draft')
    await (await page.css('[data-testid=separate-pattern]')).sendKeys('roof*')
    // Shadows are tried where parts are separated here.
    await (
      await page.css('section[aria-label=Separations] input[aria-label=Shadows]')
    ).sendKeys(page.keys.SPACE)
    const zip = 'The Brass Gauge_Quay on the turntable_parts.zip'
    const parts = async (where: string) => {
      await page.choose('[data-testid=separate-where]', where)
      await page.click('[data-testid=separate-zip]')
      const files = unzipSync(await page.download(zip))
      page.forget(zip)
      return Object.fromEntries(
        Object.entries(files).map(([name, bytes]) => [name, Buffer.from(bytes).toString('base64')]),
      )
    }
    const here = await parts('here')
    const jobs = readdirSync(path.join(store, 'jobs')).length
    expect(await parts('studio')).toEqual(here)
    expect(readdirSync(path.join(store, 'jobs'))).toHaveLength(jobs + 1)
    expect(Object.keys(here)).toContain('manifest.json')
    expect(Object.keys(here).length).toBeGreaterThan(3)
  })
  it('tells where it does not answer', async () => {
    await page.go('/project/brass-gauge/turntable')
    await page.css('[data-testid=render-studio]')
    await studio.end('SIGKILL')
    await page.click('[data-testid=render-studio]')
    await page.until('that is told', async () =>
      /The studio: the studio does not answer/.test(await page.bodyText()),
    )
  })
})
