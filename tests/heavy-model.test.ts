import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { decode } from 'fast-png'
import { Origin } from 'selenium-webdriver'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { BenchPage } from './bench-page'
import { ballFile } from './heavy-ball'

let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
})
afterAll(() => page.close())

const state = (name: 'seen' | 'drawn' | 'waiting') =>
  page.driver.executeScript<string>(
    `return document.querySelector('[data-testid=models-view]')?.dataset.${name} ?? ''`,
  )
const whole = () => page.until('all of it is drawn', async () => (await state('drawn')) === 'true')

/** The view as it is on the screen, and how many of its pixels are not the ground's. */
async function look() {
  const canvas = await page.css('[data-testid=models-view]')
  const picture = Buffer.from(await canvas.takeScreenshot(), 'base64')
  const { width, height, channels, data } = decode(picture)
  const isForm = new Uint8Array(width * height)
  // The ground, at the left border above the line of words.
  const ground = channels * ((height - 60) * width + 6)
  for (let i = 0; i < isForm.length; i++)
    for (let c = 0; c < 3; c++) if (Math.abs(data[i * channels + c] - data[ground + c]) > 6) isForm[i] = 1
  return { isForm, data, channels, covered: isForm.reduce((sum, value) => sum + value, 0) / isForm.length }
}

it('shows a heavy model at once, whole when the view rests, and in its coarse form while it moves', async () => {
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'relief-heavy-')), 'ball.stl')
  writeFileSync(file, ballFile(280))
  await page.driver.get(page.address)
  await page.click('[data-testid=new-project]')
  await (await page.css('[data-testid=model-input]')).sendKeys(file)
  await page.until('its form is seen', async () => (await state('seen')) === 'true')
  await whole()
  const first = await look()
  // A ball that is framed fills a good part of the view, and not its corners.
  expect(first.covered).toBeGreaterThan(0.15)
  expect(first.covered).toBeLessThan(0.9)

  // The camera moves: what is shown at once is coarse, and has the form of what follows.
  const canvas = await page.css('[data-testid=models-view]')
  await page.driver
    .actions({ async: true })
    .move({ origin: canvas, x: 0, y: 0 })
    .press()
    .move({ origin: canvas, x: 60, y: 10, duration: 200 })
    .perform()
  const moving = await look()
  await page.driver.actions().release().perform()
  await whole()
  const rested = await look()
  const differing = moving.isForm.reduce((sum, v, i) => sum + Math.abs(v - rested.isForm[i]), 0)
  expect(differing / moving.isForm.length).toBeLessThan(0.02)
  expect(rested.data).not.toEqual(first.data)

  // A press names the part beneath it, also through all those triangles.
  await page.driver.actions({ async: true }).move({ origin: Origin.POINTER }).perform()
  await canvas.click()
  await page.until(
    'the part is chosen',
    async () => (await page.driver.findElements({ css: '.part-row[aria-selected=true]' })).length === 1,
  )
  await whole()
  const chosen = await look()
  expect(
    chosen.isForm.reduce((sum, v, i) => sum + Math.abs(v - rested.isForm[i]), 0) / chosen.isForm.length,
  ).toBeLessThan(0.02)
  expect(chosen.data).not.toEqual(rested.data)
})
