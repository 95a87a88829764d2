import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { BenchPage } from './bench-page'
import { blockProject, fileWriter, frameShot, svgGroups } from './block-model'

let page: BenchPage
const file = fileWriter()

beforeAll(async () => {
  page = await BenchPage.open()
  await blockProject(page, file)
  await frameShot(page, 640, 400)
  await page.saved()
})
afterAll(async () => {
  await page?.close()
})

/** How much ink is on a canvas, in pixels, in a part of it given in shares. */
const ink = (label: string, x0 = 0, y0 = 0, x1 = 1, y1 = 1) =>
  page.driver.executeScript<number>(
    `const [label, x0, y0, x1, y1] = arguments
     const c = document.querySelector('canvas[aria-label="' + label + '"]')
     if (!c) return -1
     const [x, y, w, h] = [x0 * c.width, y0 * c.height, (x1 - x0) * c.width, (y1 - y0) * c.height].map(Math.floor)
     const copy = new OffscreenCanvas(w, h).getContext('2d')
     copy.drawImage(c, x, y, w, h, 0, 0, w, h)
     const d = copy.getImageData(0, 0, w, h).data
     let n = 0
     for (let i = 0; i < d.length; i += 4) n += (d[i + 3] / 255) * (1 - (d[i] + d[i + 1] + d[i + 2]) / 765)
     return Math.round(100 * n) / 100`,
    label,
    x0,
    y0,
    x1,
    y1,
  )
/** The same once the proof rests. */
const rested = async (...part: [number, number, number, number] | []) =>
  (
    await page.until('the proof rests', async () => {
      const once = await ink('Proof', ...part)
      await page.driver.sleep(500)
      return once === (await ink('Proof', ...part)) && once >= 0 && [once]
    })
  )[0]
/** Goes with the pointer pressed along places of the brush's box, in shares. */
const brush = async (...places: [number, number][]) => {
  const { x, y, width, height } = await (await page.css('[data-testid=line-brush]')).getRect()
  const at = ([u, v]: [number, number]) => ({ x: Math.round(x + u * width), y: Math.round(y + v * height) })
  const moves = page.driver.actions().move(at(places[0])).press()
  for (const place of places.slice(1)) moves.move({ ...at(place), duration: 120 })
  await moves.release().perform()
}

describe('a drawing on the sheet', () => {
  let plain = 0

  it('is found, hung, and restyled without another render', async () => {
    await page.click('.rail a[href$="/passes"]')
    await page.click('[data-testid=pass-contour]')
    await page.click('[data-testid=one-final]')
    await page.until(
      'the lines are found',
      async () =>
        (await page.driver.findElements({ css: '[data-testid=pass-contour][data-state=ready]' })).length ===
        1,
    )
    await page.click('[data-testid=to-sheet]')
    await page.css('[data-testid="card-Contour"]')
    await page.until('lines are in the proof', async () => (await ink('Proof')) > 50)
    const thin = await rested()
    const style = await page.xpath('//label[text()="Style"]/following-sibling::select')
    await (await style.findElement({ xpath: './option[text()="Felt"]' })).click()
    await page.until('they are heavier', async () => (await ink('Proof')) > 1.3 * thin)
    plain = await rested()
  })

  it('is erased under the brush, and taken back', async () => {
    await page.press('b')
    await page.click('[data-testid=line-erase]')
    for (let i = 0; i < 8; i++) await page.press('w')
    const left = await rested(0.1, 0, 0.15, 1)
    expect(left).toBeGreaterThan(3)
    await brush([0.1, 0.1], [0.15, 0.5], [0.15, 0.9])
    await page.until(
      'lines at the left are gone',
      async () => (await ink('Proof', 0.1, 0, 0.15, 1)) < left / 20,
    )
    expect(await page.bodyText()).toContain('1 brushed')
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('they are back', async () => (await ink('Proof')) === plain)
    // Where there is no line, nothing is kept.
    await page.driver.actions().sendKeys('q', 'q', 'q', 'q', 'q', 'q', 'q', 'q').perform()
    await brush([0.02, 0.02], [0.05, 0.02])
    await page.until('it says so', async () => /No line lies beneath/.test(await page.bodyText()))
  })

  it('is thickened by keyboard alone, and drawn on by hand', async () => {
    await page.click('[data-testid=line-thicken]')
    for (let i = 0; i < 8; i++) await page.press('w')
    await page.driver.executeScript('document.querySelector("[data-testid=line-brush]").focus()')
    // Space puts the brush down in the middle, arrows move it, Space lifts it.
    const { SPACE, ARROW_LEFT, ARROW_UP } = page.keys
    await page.driver.actions().sendKeys(SPACE, ARROW_LEFT, ARROW_LEFT, ARROW_UP, SPACE).perform()
    await page.until('lines are thicker', async () => (await ink('Proof')) > 1.02 * plain)
    await page.click('[data-testid=line-draw]')
    await brush([0.05, 0.06], [0.12, 0.06])
    await page.until('a line is drawn', async () => (await ink('Proof', 0, 0, 0.15, 0.12)) > 3)
    expect(await page.bodyText()).toContain('1 brushed, 1 drawn')
    await page.press(page.keys.ESCAPE)
    await page.until(
      'the brush is put down',
      async () => (await page.driver.findElements({ css: '[data-testid=line-brush]' })).length === 0,
    )
  })

  it('keeps what was done by hand over a reload and another render', async () => {
    await page.saved()
    const before = await rested()
    await page.driver.navigate().refresh()
    await page.until('it is the same after a reload', async () => (await ink('Proof')) === before)
    await page.click('.rail a[href$="/passes"]')
    await page.click('[data-testid=pass-contour]')
    await page.click('[data-testid=one-final]')
    await page.driver.sleep(1500)
    await page.click('.rail a[href$="/sheet"]')
    await page.until('and after a render', async () => (await ink('Proof')) === before)
  })

  it('is seen alone before it is written, and written as it is', async () => {
    await page.click('.rail a[href$="/export"]')
    await (await page.css('input[aria-label="Show alone"]')).click()
    await page.until('the lines are shown', async () => (await ink('The lines alone')) > 50)
    await page.click('[data-testid=export-lines]')
    const svg = (await page.download('block_Contour_lines.svg')).toString('utf8')
    const groups = await svgGroups(page, svg)
    expect(groups).toContain('silhouette Block true')
    expect(groups).toContain('drawn by hand true')
    expect(svg).toContain('height="297mm"')
  })
})
