import { readdirSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { gradientFill, newLayer } from '@/core/sheet/new-layer'
import { insertNode } from '@/core/sheet/sheet-tree'
import { newProject } from '@/data/new-project'
import { writeProjectArchive } from '@/data/project-archive'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

/** A sheet far larger than the screen: red grows to the right, green downwards. */
const SHEET = { width: 9000, height: 6000 }

let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  const project = newProject('Long quay')
  const [sheet] = project.sheets
  Object.assign(sheet, SHEET)
  const across = gradientFill('linear', ['#000000', '#ff0000'], [0, 0], [1, 0])
  const down = gradientFill('linear', ['#000000', '#00ff00'], [0, 0], [0, 1])
  insertNode(sheet, newLayer({ id: 'across', name: 'Across', content: across }), { parent: null, index: 0 })
  insertNode(sheet, newLayer({ id: 'down', name: 'Down', content: down, mode: 'plus-lighter' }), {
    parent: null,
    index: 1,
  })
  const file = path.join(page.downloads, 'long-quay.zip')
  writeFileSync(file, await writeProjectArchive({ project, files: new Map(), results: new Map() }))
  await page.driver.get(page.address)
  await (await page.css('[data-testid=archive-input]')).sendKeys(file)
  await page.css('.rail')
  const here = await page.driver.getCurrentUrl()
  await page.driver.get(here.replace(/\/[a-z]+$/, '/sheet'))
  await page.css('[data-testid="card-Across"]')
  await page.css('canvas[aria-label=Proof]')
})
afterAll(async () => {
  await page?.close()
})

interface Seen {
  /** The canvas that is shown. */
  readonly canvas: { width: number; height: number }
  /** Shares of the sheet at the middle of the stage, and what is shown there. */
  readonly at: [number, number]
  readonly rgba: number[]
}
/** What is seen in the middle of the stage, and where on the sheet that is. */
const middle = (): Promise<Seen | null> =>
  page.driver.executeScript<Seen | null>(
    `const c = document.querySelector('canvas[aria-label=Proof]')
     if (!c) return null
     const stage = document.querySelector('.stage').getBoundingClientRect()
     const sheet = document.querySelector('[data-testid=proof]').getBoundingClientRect()
     const own = c.getBoundingClientRect()
     const [x, y] = [stage.left + stage.width / 2, stage.top + stage.height / 2]
     const copy = new OffscreenCanvas(1, 1).getContext('2d')
     const [u, v] = [(x - own.left) / own.width, (y - own.top) / own.height]
     if (u < 0 || v < 0 || u >= 1 || v >= 1) return null
     copy.drawImage(c, Math.floor(u * c.width), Math.floor(v * c.height), 1, 1, 0, 0, 1, 1)
     return {
       canvas: { width: c.width, height: c.height },
       at: [(x - sheet.left) / sheet.width, (y - sheet.top) / sheet.height],
       rgba: [...copy.getImageData(0, 0, 1, 1).data],
     }`,
  )
/** Waits until the middle shows what lies there. */
const right = (what: string): Promise<Seen> =>
  page.until(what, async () => {
    const seen = await middle()
    if (!seen) return false
    const [x, y] = seen.at
    const isRight = Math.abs(seen.rgba[0] - 255 * x) < 2 && Math.abs(seen.rgba[1] - 255 * y) < 2
    return isRight && seen.rgba[3] === 255 && seen
  })
const zoomIs = (percent: number) =>
  page.until(`the zoom is ${percent} %`, async () =>
    (await (await page.css('.status')).getText()).startsWith(`${percent} %`),
  )

it('shows the whole sheet at the size it is seen', async () => {
  const { canvas, at } = await right('the whole is there')
  expect(canvas.width).toBeLessThan(1000)
  expect(Math.abs(at[0] - 0.5)).toBeLessThan(0.01)
})

it('at 1:1 holds what is seen and some around it, and follows the hand and the wheel', async () => {
  await page.press('1')
  await zoomIs(100)
  const full = await page.until('a part of it at full size', async () => {
    const seen = await middle()
    return seen !== null && seen.canvas.width > 1000 && right('it is right')
  })
  expect(full.canvas.width).toBeLessThan(2600)
  expect(full.canvas.height).toBeLessThan(1800)
  // By hand, step by step across more than was held.
  const stage = await page.css('.stage')
  for (let i = 0; i < 6; i++)
    await page.driver
      .actions()
      .move({ origin: stage, x: 300, y: 150 })
      .press()
      .move({ origin: stage, x: -300, y: -150, duration: 80 })
      .release()
      .perform()
  const moved = await right('the place it was moved to is there')
  expect(moved.at[0]).toBeGreaterThan(full.at[0] + 0.3)
  expect(moved.at[1]).toBeGreaterThan(full.at[1] + 0.2)
  // Beyond 1:1 each pixel grows; nothing is made anew for it but the part.
  await page.press(']', ']', ']', ']')
  const close = await right('the part is there, magnified')
  expect(close.at[0]).toBeCloseTo(moved.at[0], 2)
  await page.press('0')
  const whole = await page.until('the whole again', async () => {
    const seen = await middle()
    return seen !== null && seen.canvas.width < 1000 && right('it is right')
  })
  expect(Math.abs(whole.at[0] - 0.5)).toBeLessThan(0.01)
})

it('follows an edit in whatever part is looked at', async () => {
  await page.press('1')
  await zoomIs(100)
  await right('the part is there')
  await page.click('[data-testid="card-Down"]')
  await page.press('h')
  await page.until('green is gone', async () => (await middle())?.rgba[1] === 0)
  await page.chord(page.keys.CONTROL, 'z')
  await right('and back')
  expect(await page.driver.findElements({ css: '.status [role=alert]' })).toHaveLength(0)
})

it('is on the start page as it was left, though a part of it was looked at', async () => {
  const picture = () =>
    page.driver.executeAsyncScript<string>(
      `const done = arguments[arguments.length - 1]
       indexedDB.open('muted-relief').onsuccess = ({ target: { result: db } }) => {
         db.transaction('projects').objectStore('projects').getAll().onsuccess = ({ target: { result: rows } }) => {
           db.close()
           done(String(rows.find(({ name }) => name === 'Long quay')?.thumbnail))
         }
       }`,
    )
  const before = await picture()
  await page.click('[data-testid="card-Down"]')
  await page.press('h')
  await page.until('green is gone', async () => (await middle())?.rgba[1] === 0)
  const here = await page.driver.getCurrentUrl()
  await page.click('.wordmark')
  await page.until('its picture is another', async () => (await picture()) !== before)
  await page.driver.get(here)
  await page.css('canvas[aria-label=Proof]')
  await page.chord(page.keys.CONTROL, 'z')
  await page.saved()
})

it('loses nothing when the page is reloaded in the middle of an export', async () => {
  const here = await page.driver.getCurrentUrl()
  const id = /project\/([^/]+)/.exec(here)?.[1] ?? ''
  await page.saved()
  const before = await storedProject(page, id)
  await page.click('.rail a[href$="/export"]')
  await page.click('[data-testid=export-sheet]')
  await page.until('it is under way', async () => /Writing the sheet, \d+ %/.test(await page.bodyText()))
  await page.driver.navigate().refresh()
  await page.css('[data-testid=export-sheet]')
  await page.css('canvas[aria-label="What will be exported"]')
  expect(await storedProject(page, id)).toEqual(before)
  expect(readdirSync(page.downloads)).toEqual(['long-quay.zip'])
  // What was taken back before it can still be done again: the history outlasts the page too.
  expect(await (await page.text('button', 'Again')).isEnabled()).toBe(true)
})
