import { afterAll, beforeAll, expect, it } from 'vitest'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'

/** A rack of many layers: smaller cards, layers found by name, names that follow what layers hold, and what a moving hand is shown. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.openDemoSheet()
})
afterAll(async () => {
  await page?.close()
})

const width = async (name: string) => (await (await page.css(`[data-testid="card-${name}"]`)).getRect()).width
const chosen = () =>
  page.driver.executeScript<string | undefined>(
    "return document.querySelector('.rack [aria-selected=true]')?.dataset.testid.replace('card-', '')",
  )
const found = () =>
  page.driver.executeScript<string[]>(
    "return [...document.querySelectorAll('.rack [data-found=true]')].map((e) => e.dataset.testid.replace('card-', ''))",
  )

it('makes its cards small, over a reload too, and large again', async () => {
  const large = await width('Clay')
  await page.chord(page.keys.SHIFT, 's')
  await page.until('cards are small', async () => (await width('Clay')) < 0.8 * large)
  expect(await violations(page)).toEqual([])
  await page.driver.navigate().refresh()
  await page.css('[data-testid="card-Clay"]')
  await page.until('cards are small still', async () => (await width('Clay')) < 0.8 * large)
  await (await page.text('button', 'Large cards')).click()
  await page.until('cards are large', async () => (await width('Clay')) === large)
})

it('finds layers by a part of their names, one after the other, within folded groups too', async () => {
  await (await page.css('[data-testid="card-Cavity"]')).click()
  await page.press('g')
  const lip = await page.css('.tray-lip')
  await page.driver.actions().doubleClick(lip).perform()
  await page.css('.card[data-folded=true]')
  await page.chord(page.keys.SHIFT, 'f')
  const input = await page.css('#find-layer')
  await input.sendKeys('light')
  expect(await found()).toEqual(['Light on the edges', 'Evening light'])
  await input.sendKeys(page.keys.ENTER)
  await page.until('the first is chosen', async () => (await chosen()) === 'Light on the edges')
  await input.sendKeys(page.keys.ENTER)
  await page.until('the next is chosen', async () => (await chosen()) === 'Evening light')
  await input.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), 'cavity', page.keys.ENTER)
  await page.until('its group is open', async () => (await chosen()) === 'Cavity')
  await input.sendKeys(page.keys.ESCAPE)
  await page.until('all are looked for', async () => (await found()).length > 10)
  await input.sendKeys('no such layer')
  await page.until('that is said', async () => (await page.bodyText()).includes('None'))
  await input.sendKeys(page.keys.ESCAPE)
})

it('calls a texture by what it is, until it is given a name', async () => {
  await page.chord(page.keys.CONTROL, 'k')
  const search = await page.css('[role=dialog] input')
  await search.sendKeys('Add a texture', page.keys.ENTER)
  await page.css('[data-testid="card-Paper fibre"]')
  const style = await page.xpath('//label[normalize-space(.)="Texture"]/following::select[1]')
  await style.sendKeys('Canvas')
  await page.css('[data-testid="card-Canvas"]')
  await page.chord(page.keys.CONTROL, 'z')
  await page.css('[data-testid="card-Paper fibre"]')
})

it('shows a moving hand what keeps up with it, and at rest the same picture as before', async () => {
  await (await page.css('[data-testid="card-Clay"]')).click()
  /** Differences of neighbours: a picture of fewer pixels has less of them. */
  const detail = () =>
    page.driver.executeScript<number>(
      `const from = document.querySelector('[data-testid=proof] canvas'); if (!from) return NaN; const { width, height } = from
       const own = new OffscreenCanvas(width, height).getContext('2d'); own.drawImage(from, 0, 0)
       const { data } = own.getImageData(0, 0, width, height); let sum = 0
       for (let i = 0; i < data.length - 4; i += 4) sum += Math.abs(data[i] - data[i + 4])
       return sum / (width * height)`,
    )
  const shown = () =>
    page.driver.executeScript<{ isBusy: boolean; times: number; milliseconds: number }>(
      `const { ariaBusy, dataset } = document.querySelector('[data-testid=proof]')
       return { isBusy: ariaBusy === 'true', times: Number(dataset.shown), milliseconds: Number(dataset.milliseconds) }`,
    )
  const isAtRest = async () => {
    const before = await detail()
    await page.driver.sleep(900)
    return !(await shown()).isBusy && Math.abs((await detail()) - before) < 1e-6 && before
  }
  const fine = await page.until('it is at rest', isAtRest)
  await page.driver.executeScript(
    `const edge = document.querySelector('[data-testid=card-Clay] .card-edge'); const box = edge.getBoundingClientRect()
     const at = (share) => ({ clientX: box.left + share * box.width, clientY: box.top + 4, bubbles: true, pointerId: 1, buttons: 1, isPrimary: true })
     edge.setPointerCapture = () => undefined; edge.hasPointerCapture = () => true
     edge.dispatchEvent(new PointerEvent('pointerdown', at(0.99)))
     let n = 0
     window.moving = setInterval(() => edge.dispatchEvent(new PointerEvent('pointermove', at(0.9 + 0.09 * (n++ % 2)))), 30)
     window.still = () => { clearInterval(window.moving); edge.dispatchEvent(new PointerEvent('pointerup', at(0.99))) }`,
  )
  const { times } = await shown()
  // Where all of it is there in time, it stays as fine as it is.
  await page.until('the picture keeps up, or is coarser', async () => {
    const now = await shown()
    return now.times > times + 5 && (now.milliseconds < 30 || (await detail()) < 0.9 * fine)
  })
  await page.driver.executeScript('window.still()')
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('it is as fine as it was', async () => Math.abs((await detail()) - fine) < 1e-6)
})
