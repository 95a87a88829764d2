import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { FarmProcess } from '../cli/testing/farm-process'
import { BenchPage } from './bench-page'

/** Frames of a turntable rendered by the studio's machine: sent, followed, taken over, given up. */
let page: BenchPage
let studio: FarmProcess
const store = mkdtempSync(path.join(tmpdir(), 'relief-studio-'))
beforeAll(async () => {
  studio = FarmProcess.begin('serve', '--store', store, '--port', '0', '--token', 'a word', '--threads', '2')
  process.env.RELIEF_STUDIO = (await studio.says(/http:\S+/)).trim()
  process.env.RELIEF_TOKEN = 'a word'
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.text('*', 'The Brass Gauge')
  await page.driver.get(`${page.address}/project/brass-gauge/turntable`)
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
  it('tells where it does not answer', async () => {
    await studio.end('SIGKILL')
    await page.click('[data-testid=render-studio]')
    await page.until('that is told', async () =>
      /The studio: the studio does not answer/.test(await page.bodyText()),
    )
  })
})
