import path from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'

/** Effects chosen by picture and by name, and masks of rules, on the demo's sheet. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.openDemoSheet()
})
afterAll(async () => {
  await page?.close()
})

/** A place of the evening sky. */
const sky = () => page.pixel('Proof', 0.08, 0.12)
const isNear = (a: readonly number[], b: readonly number[], by = 6) =>
  a.length === 4 && a.every((v, i) => Math.abs(v - b[i]) <= by)

it('offers effects as small pictures, finds one by name, and takes it back', async () => {
  await page.click('[data-testid="card-Evening sky"]')
  const before = await sky()
  await page.click('[data-testid=add-effect]')
  await page.until('an offer is painted', () =>
    page.driver.executeScript<boolean>(
      `const c = document.querySelector('[data-testid=offer-levels] canvas')
       return !!c && c.getContext('2d').getImageData(100, 60, 1, 1).data[3] > 0`,
    ),
  )
  const search = await page.css('.effect-chooser input')
  await search.sendKeys('invert', page.keys.ENTER)
  await page.css('[data-testid=effect-invert]')
  await page.until('the sky is dark', async () => (await sky())[0] < 90)
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('the sky is back', async () => isNear(await sky(), before))
})

it('bends a curve by keys alone, and shows it at once', async () => {
  // Where the sky is lightest, over the far shore.
  const bright = () => page.pixel('Proof', 0.08, 0.26)
  await page.click('[data-testid="card-Evening sky"]')
  const before = await bright()
  await page.click('[data-testid=add-effect]')
  const search = await page.css('.effect-chooser input')
  await search.sendKeys('lightness only')
  expect(await page.driver.executeScript('return document.querySelectorAll(".effect-offer").length')).toBe(0)
  await search.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), 'curve', page.keys.ENTER)
  const point = await page.css('.curve-point:last-of-type')
  expect(await point.getAttribute('aria-label')).toMatch(/point 4 of 4: 100 becomes 100/)
  for (let i = 0; i < 4; i++) await point.sendKeys(page.keys.chord(page.keys.SHIFT, page.keys.ARROW_DOWN))
  expect(await point.getAttribute('aria-label')).toMatch(/100 becomes 60/)
  await page.until('the sky is darker', async () => (await bright())[0] < before[0] - 30)
  // All that was moved in one go is taken back in one.
  await page.chord(page.keys.CONTROL, 'z')
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('the sky is back', async () => isNear(await bright(), before))
  expect(await page.driver.executeScript('return document.querySelectorAll(".effect").length')).toBe(0)
})

it('masks by a rule whose places are moved on the proof', async () => {
  await page.click('[data-testid="card-Evening sky"]')
  const before = await sky()
  await page.click('[data-testid=add-term]')
  await page.click('[data-testid=term-gradient]')
  const handle = await page.css('.sheet-handle[aria-label^="All at"]')
  // From the lower end up to just beneath the place that is looked at: it shows nothing there any more.
  const other = await page.css('.sheet-handle[aria-label^="Nothing at"]')
  for (let i = 0; i < 49; i++) await other.sendKeys(page.keys.chord(page.keys.SHIFT, page.keys.ARROW_UP))
  await page.until('the paper is seen instead of the sky', async () => (await sky())[2] > before[2] + 20)
  expect(await handle.isDisplayed()).toBe(true)
  expect(await violations(page)).toEqual([])
  await page.click('[data-testid=term-done]')
  expect(
    await page.driver.executeScript(
      'return document.querySelectorAll(\'.sheet-handle[aria-label^="All at"]\').length',
    ),
  ).toBe(0)
  await page.chord(page.keys.CONTROL, 'z')
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('the sky is back', async () => isNear(await sky(), before))
})

it('works an effect on a part of the picture alone', async () => {
  await page.click('[data-testid="card-Evening sky"]')
  const before = await sky()
  await page.click('[data-testid=add-effect]')
  await (await page.css('.effect-chooser input')).sendKeys('invert', page.keys.ENTER)
  await page.until('the sky is dark', async () => (await sky())[0] < 90)
  await (await page.text('button', 'Work on a part of the picture only')).click()
  await page.driver.executeScript(
    `document.querySelector('.effect-body [data-testid=add-term]').scrollIntoView({ block: 'center' })`,
  )
  await page.click('.effect-body [data-testid=add-term]')
  await page.click('[data-testid=term-roles]')
  await (await page.xpath('//div[@class="pick-list"]//label[contains(., "The subject")]//input')).click()
  await page.until('the sky is as it was', async () => isNear(await sky(), before))
  expect(await (await page.css('[data-testid=effect-invert]')).getText()).toContain('masked')
  expect(await violations(page)).toEqual([])
})

it('reads a colour, and says what each layer made of it', async () => {
  await page.press('i')
  const box = await page.css('[data-testid=proof]')
  await page.driver.actions().move({ origin: box, x: -300, y: -150 }).click().perform()
  const read = await page.css('[data-testid=colour-read]')
  await page.until('the layers are listed', async () => /Evening sky/.test(await read.getText()))
  const text = await read.getText()
  expect(text).toMatch(/#[0-9a-f]{6}/)
  expect(text).toMatch(/OKLCh \d+\.\d %/)
  // Nothing of the contour is in the sky.
  expect(text).toMatch(/Contour\s+nothing/)
  expect(await violations(page)).toEqual([])
  await page.press('i')
  await page.until('it is closed', () =>
    page.driver.executeScript<boolean>('return !document.querySelector("[data-testid=colour-read]")'),
  )
})

it('shows the proof in grey and flipped, and picks what is seen there', async () => {
  await page.press('y')
  expect(
    await page.driver.executeScript(
      'return getComputedStyle(document.querySelector("[data-testid=proof]").parentElement).filter',
    ),
  ).toBe('grayscale(1)')
  await page.press('y')
  const box = await page.css('[data-testid=proof]')
  const pickAt = async (x: number, y: number) => {
    await page.driver.actions().move({ origin: box, x, y }).click().perform()
    await new Promise((resolve) => setTimeout(resolve, 700))
    return (await page.css('.status')).getText()
  }
  const plain = await pickAt(60, 60)
  await page.press('x')
  const flipped = await pickAt(-60, 60)
  const named = (text: string) => text.split('\n').find((line) => line.includes(' / '))
  expect(named(plain)).toBeDefined()
  expect(named(flipped)).toBe(named(plain))
  await page.press('x')
})

it('compares by a seam, in turns and by what differs, by keys alone', async () => {
  await page.click('[data-testid="card-Dusk from above"]')
  const by = () =>
    page.driver.executeScript<string | null>(
      'return document.querySelector("[data-testid=compare]")?.dataset.by ?? null',
    )
  await page.press('c')
  await page.until('a seam', async () => (await by()) === 'seam')
  await page.chord(page.keys.SHIFT, 'c')
  await page.until('they blink', async () => (await by()) === 'blink')
  const label = () =>
    page.driver.executeScript<string>('return document.querySelector(".seam-label").textContent')
  const first = await label()
  await page.until('the other is shown', async () => (await label()) !== first)
  await page.chord(page.keys.SHIFT, 'd')
  await page.until('what differs', async () => (await by()) === 'difference')
  expect(await violations(page)).toEqual([])
  await page.chord(page.keys.SHIFT, 'd')
  await page.until('it is over', async () => (await by()) === null)
})

it('sets levels by what is pressed on the proof, and by what there is', async () => {
  await page.click('[data-testid="card-Clay"]')
  await page.click('[data-testid=add-effect]')
  await (await page.css('.effect-chooser input')).sendKeys('levels', page.keys.ENTER)
  const canvas = await page.css('[data-testid=levels-tools] canvas')
  await page.until('tones are measured', async () =>
    /darkest \d+/.test((await canvas.getAttribute('aria-label')) ?? ''),
  )
  expect(await violations(page)).toEqual([])
  const wall = () => page.pixel('Proof', 0.55, 0.88)
  const before = await wall()
  await page.click('[data-testid=pick-white]')
  const proof = await page.css('[data-testid=proof]')
  const { width, height } = await proof.getRect()
  await page.driver
    .actions()
    .move({ origin: proof, x: Math.round(0.05 * width), y: Math.round(0.38 * height) })
    .click()
    .perform()
  await page.until('the wall is lighter', async () => (await wall())[0] > before[0] + 12)
  await page.chord(page.keys.CONTROL, 'z')
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('the wall is as it was', async () => isNear(await wall(), before))
})

it('matches the tones of a picture, and says what that comes to', async () => {
  await page.click('[data-testid="card-Dusk from above"]')
  await page.click('[data-testid=add-effect]')
  await (await page.css('.effect-chooser input')).sendKeys('match tones', page.keys.ENTER)
  const file = path.join(import.meta.dirname, '..', 'public', 'recipes', 'night-glow-low-water.jpg')
  const before = await page.driver.executeScript<string>(
    "return document.querySelector('[data-testid=effect-matchTones]').textContent",
  )
  await (await page.css('[data-testid=match-input]')).sendKeys(file)
  await page.until('its numbers are other ones', async () => {
    const now = await page.driver.executeScript<string>(
      "return [...document.querySelectorAll('[data-testid=effect-matchTones] input')].map((i) => i.value).join() + document.querySelector('[data-testid=effect-matchTones]').textContent",
    )
    return now !== before && /Lightness/.test(now)
  })
  expect(await violations(page)).toEqual([])
  await page.chord(page.keys.CONTROL, 'z')
  await page.chord(page.keys.CONTROL, 'z')
})

it('makes sharp what is pressed', async () => {
  await page.press('s')
  await page.press('w')
  await page.click('[data-testid=add-effect]')
  await (await page.css('.effect-chooser input')).sendKeys('depth blur', page.keys.ENTER)
  const focus = () =>
    page.driver.executeScript<number>(
      `return Number([...document.querySelectorAll('[data-testid=effect-depthBlur] input')].find((i) => i.getAttribute('aria-label') === 'Sharp at' || i.labels?.[0]?.textContent.startsWith('Sharp at'))?.value)`,
    )
  await page.css('[data-testid=pick-focus]')
  const before = await focus()
  await page.click('[data-testid=pick-focus]')
  const proof = await page.css('[data-testid=proof]')
  const { width, height } = await proof.getRect()
  // The boat at the quay's foot is nearer than where it begins.
  await page.driver
    .actions()
    .move({ origin: proof, x: Math.round(-0.3 * width), y: Math.round(0.38 * height) })
    .click()
    .perform()
  await page.until('it is sharp elsewhere', async () => (await focus()) !== before)
  await page.chord(page.keys.CONTROL, 'z')
  await page.chord(page.keys.CONTROL, 'z')
  await page.chord(page.keys.CONTROL, 'z')
})

it('outlines and names what lies under the pointer while parts are picked', async () => {
  await page.click('[data-testid="card-Clay"]')
  const proof = await page.css('[data-testid=proof]')
  const { width, height } = await proof.getRect()
  await page.press(page.keys.ESCAPE)
  await page.press('p')
  await page.until('parts are picked', async () => /Click parts to put them/.test(await page.bodyText()))
  // A hand trembles.
  let tremble = 0
  const at = (x: number, y: number) => {
    tremble = 1 - tremble
    const place = { x: Math.round((x - 0.5) * width) + tremble, y: Math.round((y - 0.5) * height) }
    return page.driver
      .actions()
      .move({ origin: proof, ...place })
      .perform()
  }
  await page.until('the roof is named', async () => {
    await at(0.548, 0.32)
    return /Roof: click to put it/.test(await page.bodyText())
  })
  await page.until('nothing is', async () => {
    await at(0.05, 0.05)
    return /Click parts to put them/.test(await page.bodyText())
  })
  await page.press(page.keys.ESCAPE)
})

it('masks by a colour pressed in the proof', async () => {
  await page.click('[data-testid="card-Dusk from above"]')
  await page.click('[data-testid=add-term]')
  await page.click('[data-testid=term-similarColour]')
  await page.click('[data-testid=pick-colour]')
  const proof = await page.css('[data-testid=proof]')
  const { width, height } = await proof.getRect()
  await page.driver
    .actions()
    .move({ origin: proof, x: Math.round(-0.4 * width), y: Math.round(-0.4 * height) })
    .click()
    .perform()
  const colour = () =>
    page.driver.executeScript<string>(
      "return document.querySelector('.term-editor input[type=color]')?.value ?? ''",
    )
  await page.until('it is the sky’s', async () => {
    const value = await colour()
    return value !== '' && value !== '#c8a070'
  })
  expect(await violations(page)).toEqual([])
  await page.click('[data-testid=term-done]')
  await page.chord(page.keys.CONTROL, 'z')
  await page.chord(page.keys.CONTROL, 'z')
})
