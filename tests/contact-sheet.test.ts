import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { BenchPage } from './bench-page'

let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await (await page.css('.project-card .name')).click()
  await page.css('.card')
  await page.click('.rail a[href$="/passes"]')
  await page.css('[data-testid=pass-clay]')
})
afterAll(async () => {
  await page?.close()
})

const jobs = () => page.driver.findElements({ css: '[data-testid=job]' })
const labelOf = async (kind: string) =>
  (await page.css(`[data-testid=pass-${kind}] .contact-label`)).getText()
/** Share of a running job that is done, in percent; −1 where none runs. */
const percent = async (kind: string): Promise<number> => {
  const match = /rendering, (\d+) %/.exec(await labelOf(kind))
  return match ? Number(match[1]) : -1
}
const reaches = (kind: string, least: number) =>
  page.until(`${kind} is rendered to ${least} %`, async () => {
    const now = await percent(kind)
    return now >= least ? { now } : false
  })
const shownPixels = (kind: string) =>
  page.driver.executeScript<number[]>(
    `const c = document.querySelector('[data-testid=pass-' + arguments[0] + '] canvas');
     return Array.from(c.getContext('2d').getImageData(0, 0, c.width, c.height).data)`,
    kind,
  )

describe('the contact sheet', () => {
  it('adds a set of passes, and one alone, as undo steps', async () => {
    await page.click('[data-testid=add-set]')
    await page.click('[data-testid="add-set-sculpt study"]')
    await page.css('[data-testid=pass-thickness]')
    await page.click('[data-testid=add-pass]')
    await page.click('[data-testid=add-pass-shadow]')
    await page.css('[data-testid=pass-shadow]')
    await page.chord(page.keys.CONTROL, 'z')
    await page.until(
      'the shadow pass is gone again',
      async () => (await page.driver.findElements({ css: '[data-testid=pass-shadow]' })).length === 0,
    )
    await page.saved()
  })

  it('names what is beneath the pointer, in every picture alike', async () => {
    let jitter = 0
    /** The name once the hand, which is never quite still, has come to a spot and rested; empty while there is none. */
    const at = async (kind: string, x: number, y: number) => {
      const picture = await page.css(`[data-testid=pass-${kind}] .contact-picture`)
      const { width, height } = await picture.getRect()
      const [dx, dy] = [Math.round((x - 0.5) * width), Math.round((y - 0.5) * height)]
      jitter = 1 - jitter
      await page.driver
        .actions()
        .move({ origin: picture, x: dx + jitter, y: dy })
        .perform()
      await page.driver.sleep(1000)
      const [name] = await page.driver.findElements({ css: '[data-testid=spot-name]' })
      return name ? name.getText() : ''
    }
    let name = ''
    await page.until('the quay is named', async () => / \/ /.test((name = await at('clay', 0.6, 0.8))))
    await page.until('the sky is named', async () => (await at('clay', 0.03, 0.03)) === 'background')
    await page.until('another picture names the same', async () => (await at('occlusion', 0.6, 0.8)) === name)
  })

  it('renders a pass, lets it be paused, and ends it without loss of what was there', async () => {
    await page.click('[data-testid=pass-occlusion]')
    const before = await labelOf('occlusion')
    expect(before).toMatch(/final/)
    await page.click('[data-testid=one-good]')
    await reaches('occlusion', 4)
    await page.click('[data-testid=pause-job]')
    await page.until('it is paused', async () => /paused/.test(await labelOf('occlusion')))
    await page.driver.sleep(800)
    expect(await labelOf('occlusion')).toMatch(/paused/)
    await page.click('[data-testid=resume-job]')
    const { now } = await reaches('occlusion', 4)
    expect(now).toBeGreaterThan(0)
    await page.click('[data-testid=cancel-job]')
    await page.until('no job is left', async () => (await jobs()).length === 0)
    expect(await labelOf('occlusion')).toBe(before)
  })

  it('goes on after a reload from the blocks it has', async () => {
    await page.click('[data-testid=pass-cavity]')
    await page.click('[data-testid=one-good]')
    const { now } = await reaches('cavity', 15)
    await page.driver.navigate().refresh()
    await page.css('[data-testid=pass-cavity]')
    // What was stored is not rendered again: it begins about where it was, not at nothing.
    const first = await reaches('cavity', 1)
    expect(first.now).toBeGreaterThan(now / 3)
    await page.until('it is finished', async () => (await jobs()).length === 0, 240_000)
    expect(await labelOf('cavity')).toMatch(/^Cavity\s+good/)
    await page.driver.navigate().refresh()
    await page.css('[data-testid=pass-cavity]')
    await page.driver.sleep(1500)
    expect(await jobs()).toHaveLength(0)
  })

  it('renders a dragged region before the rest', async () => {
    await page.click('[data-testid=pass-thickness]')
    await page.press('g')
    const picture = await page.css('[data-testid=pass-thickness] .contact-picture')
    const { x, y, width, height } = await picture.getRect()
    const point = (sx: number, sy: number) => ({
      x: Math.round(x + sx * width),
      y: Math.round(y + sy * height),
    })
    await page.driver
      .actions()
      .move(point(0.05, 0.6))
      .press()
      .move(point(0.15, 0.75))
      .move(point(0.25, 0.95))
      .release()
      .perform()
    // Without a job one begins with all passes; the others are taken from it by ending it once the region is seen.
    await page.until('a job runs', async () => (await jobs()).length === 1)
    await page.until('the region is drawn while the middle is not', async () => {
      const pixels = await shownPixels('thickness')
      const w = Math.round(Math.sqrt((pixels.length / 4) * (1200 / 750)))
      const alphaAt = (sx: number, sy: number) => {
        const h = pixels.length / 4 / w
        return pixels[4 * (Math.floor(sy * h) * w + Math.floor(sx * w)) + 3]
      }
      return alphaAt(0.15, 0.85) > 0
    })
    await page.click('[data-testid=cancel-job]')
    await page.until('no job is left', async () => (await jobs()).length === 0)
  })

  it('relights clay without a ray, where it hangs too', async () => {
    // Hung anew, so that what it shows is what is stored and no piece of the render just ended.
    await page.click('.rail a[href$="/shot"]')
    await page.xpath('//button[text()="Light"]')
    await page.click('.rail a[href$="/passes"]')
    await page.css('[data-testid=pass-clay]')
    await page.until('clay is shown', async () => (await shownPixels('clay')).some((v) => v > 0))
    const before = await shownPixels('clay')
    await page.click('.rail a[href$="/shot"]')
    await (await page.xpath('//button[text()="Light"]')).click()
    const strength = await page.xpath('//aside//div[label="Strength"]//input[@inputmode="decimal"]')
    await strength.click()
    await strength.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), '0.1', page.keys.ENTER)
    await page.click('.rail a[href$="/passes"]')
    await page.css('[data-testid=pass-clay]')
    const mean = (pixels: number[]) => pixels.reduce((a, b) => a + b, 0) / pixels.length
    await page.until('clay is darker', async () => {
      const now = await shownPixels('clay')
      return now.length > 0 && now.some((v) => v > 0) && mean(now) < mean(before) - 5
    })
    expect(await (await page.css('[data-testid=pass-clay]')).getAttribute('data-state')).toBe('ready')
    expect(await jobs()).toHaveLength(0)
    await page.chord(page.keys.CONTROL, 'z')
    await page.until(
      'clay is as light as before',
      async () => Math.abs(mean(await shownPixels('clay')) - mean(before)) < 0.5,
    )
  })

  it('names what looks forgotten, and shows where the time went', async () => {
    await page.click('[data-testid=pass-clay]')
    for (const box of await page.driver.findElements({ css: '[aria-label="Lights in it"] input' }))
      await box.click()
    await page.until('the warning is there', async () =>
      /Clay holds no light/.test(await (await page.css('[data-testid=render-warnings]')).getText()),
    )
    const chart = await page.css('[data-testid=time-chart] canvas')
    expect(await chart.getAttribute('aria-label')).toMatch(/Clay [\d.]+ seconds/)
  })
})
