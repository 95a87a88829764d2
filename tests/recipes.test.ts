import path from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { unzipSync } from 'fflate'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'

/** Recipes hung, saved, taken along as files and put on models; states kept and compared; history; several layers at once. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.openDemoSheet()
})
afterAll(async () => {
  await page?.close()
})

const cards = () =>
  page.driver.executeScript<string[]>(
    "return [...document.querySelectorAll('.rack [data-layer]')].map((e) => e.dataset.testid.replace('card-', ''))",
  )
const chosen = () =>
  page.driver.executeScript<string[]>(
    "return [...document.querySelectorAll('.rack [aria-selected=true]')].map((e) => e.dataset.testid.replace('card-', ''))",
  )
const heading = () =>
  page.driver.executeScript<string>("return document.querySelector('.inspector h2')?.textContent ?? ''")

it('hangs one of our own from the keyboard, as one step', async () => {
  const before = await cards()
  await page.press('s')
  await page.press('r')
  expect(await heading()).toBe('Recipes')
  expect(await violations(page)).toEqual([])
  const card = await page.css('[data-testid=recipe-fog-bank]')
  await card.sendKeys(page.keys.ENTER)
  await page.until('it is shown', async () => (await heading()) === 'Fog bank')
  expect(await violations(page)).toEqual([])
  // Depth is rendered already; the overcast clay is not.
  expect(await page.bodyText()).toMatch(/to be rendered/)
  await page.choose('.recipe-hang select', 'later')
  await page.click('[data-testid=hang-recipe]')
  await page.until('its layers hang', async () => (await cards()).includes('Fog on the ground'))
  expect(await heading()).toBe('Fog bank')
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('all is as before', async () => (await cards()).join() === before.join())
})

it('is saved from a sheet, goes out as a file, comes in again, and says what it names', async () => {
  await page.press('r')
  await page.click('[data-testid=save-recipe]')
  const name = await page.css('.recipe-form input[name=name]')
  await name.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), 'Evening at the quay')
  await page.click('[data-testid=save-recipe-now]')
  const own = await page.xpath(
    "//button[contains(@class, 'recipe-card')][contains(., 'Evening at the quay')]",
  )
  await own.click()
  await page.until('it is shown', async () => (await heading()) === 'Evening at the quay')
  // On the project it is from everything is found by its name.
  expect(await page.bodyText()).toMatch(/Found by name: \d+/)
  expect(await page.bodyText()).toMatch(/all are here/)
  await page.click('[data-testid=recipe-file]')
  const file = await page.download('Evening at the quay.zip')
  const recipe = JSON.parse(new TextDecoder().decode(unzipSync(new Uint8Array(file))['recipe.json']))
  expect(recipe).toMatchObject({ version: 1, name: 'Evening at the quay' })
  expect(recipe.parts.map((part: { name: string }) => part.name)).toContain('Lantern glass')
  await page.click('[data-testid=delete-recipe]')
  await page.until('the list is there', async () => (await heading()) === 'Recipes')
  expect(await page.bodyText()).toMatch(/None yet/)
  await (
    await page.css('[data-testid=recipe-input]')
  ).sendKeys(path.join(page.downloads, 'Evening at the quay.zip'))
  await page.until('it is back', async () => (await heading()) === 'Evening at the quay')
  await page.press('r')
})

it('tells what is wrong with a file that is no recipe', async () => {
  await page.press('r')
  await (
    await page.css('[data-testid=recipe-input]')
  ).sendKeys(path.join(import.meta.dirname, '..', 'demo', 'low-water.zip'))
  await page.until('it is told', async () =>
    /low-water\.zip: holds no recipe\.json: it is not a recipe/.test(await page.bodyText()),
  )
  await page.press('r')
})

it('keeps a state, compares it with what came after, and brings it back', async () => {
  await page.press('s')
  await page.click('[data-testid=keep-state]')
  await page.css('.kept-states canvas')
  const sky = () => page.pixel('Proof', 0.08, 0.12)
  const before = await sky()
  await page.click('[data-testid="card-Evening sky"]')
  await page.press('h')
  await page.until('the sky is gone', async () => (await sky())[2] > before[2] + 20)
  await page.press('s')
  await page.click('[aria-label="Compare with State 1"]')
  await page.css('[data-testid=compare]')
  const kept = () => page.pixel('Kept: State 1', 0.08, 0.12)
  await page.until('the kept sky is left of the seam', async () => {
    const [r, g, b] = await kept()
    return Math.abs(r - before[0]) + Math.abs(g - before[1]) + Math.abs(b - before[2]) < 12
  })
  expect((await sky())[2]).toBeGreaterThan(before[2] + 20)
  expect(await violations(page)).toEqual([])
  // A pass against what is seen.
  const clay = await page.driver.executeScript<string>(
    `return [...document.querySelectorAll('[aria-label="With"] option')].find((o) => o.textContent === 'Pass: Clay').value`,
  )
  await page.choose('[aria-label="With"]', clay)
  await page.until('the proof is clear where clay has nothing', async () => {
    const [r, g, b] = await sky()
    return r === g && g === b
  })
  await page.choose('[aria-label="With"]', 'now')
  await page.press('c')
  await page.click('[aria-label="Bring back State 1"]')
  await page.until('the sky is back', async () => Math.abs((await sky())[2] - before[2]) < 6)
})

it('lists what was done with small pictures, and goes back to a step at one press', async () => {
  await page.chord(page.keys.SHIFT, 'h')
  const steps = () =>
    page.driver.executeScript<string[]>(
      "return [...document.querySelectorAll('.history-list button')].map((e) => e.textContent.trim())",
    )
  expect((await steps())[0]).toMatch(/bring back a kept state now/)
  await page.until('a small picture is painted', () =>
    page.driver.executeScript<boolean>(
      `const c = document.querySelector('.history-list canvas')
       return c.getContext('2d').getImageData(40, 30, 1, 1).data[3] > 0`,
    ),
  )
  expect(await violations(page)).toEqual([])
  await (
    await page.xpath("//ol[contains(@class,'history-list')]//button[contains(., 'keep State 1')]")
  ).click()
  await page.until('three steps are undone', async () =>
    ((await steps()).find((step) => / now$/.test(step)) ?? '').startsWith('keep State 1'),
  )
  await (await page.css('.history-list button')).click()
  await page.until('all is done again', async () => / now$/.test((await steps())[0]))
  await page.chord(page.keys.SHIFT, 'h')
})

it('measures the proof, a layer and its mask', async () => {
  await page.click('[data-testid="card-Lantern glow"]')
  await page.chord(page.keys.SHIFT, 'i')
  await page.css('[data-testid=scopes]')
  const mean = () =>
    page.driver.executeScript<number>(
      `return Number(/brightness (\\d+)/.exec(document.querySelector('[data-testid=scopes] canvas').getAttribute('aria-label'))[1])`,
    )
  const proof = await mean()
  expect(proof).toBeGreaterThan(60)
  expect(await violations(page)).toEqual([])
  await (await page.text('button', 'Mask')).click()
  // A small pane of glass: nearly all of its mask is black.
  await page.until('the mask is measured', async () => (await mean()) < 12)
  await page.chord(page.keys.SHIFT, 'i')
})

it('shows a mask alone, as a tint and as an outline', async () => {
  await page.click('[data-testid="card-Water haze"]')
  const water = () => page.pixel('Proof', 0.1, 0.55)
  const sky = () => page.pixel('Proof', 0.08, 0.12)
  const [before, skyBefore] = [await water(), await sky()]
  await (await page.text('button', 'Alone')).click()
  await page.until('water is white, sky is black', async () => {
    const [w, s] = [await water(), await sky()]
    return Math.min(...w) > 250 && Math.max(...s.slice(0, 3)) < 5
  })
  await page.press('t')
  await page.until('it is at work', async () => Math.abs((await water())[0] - before[0]) < 4)
  await page.press('t')
  // The tint is warm: there is less blue.
  await page.until('water is tinted', async () => (await water())[2] < before[2] - 25)
  expect(Math.abs((await sky())[0] - skyBefore[0])).toBeLessThan(4)
  await page.press('t')
})

it('chooses several layers by key and by pointer, and changes them together', async () => {
  await page.click('[data-testid="card-Clay"]')
  await page.chord(page.keys.CONTROL, page.keys.ARROW_RIGHT)
  await page.chord(page.keys.CONTROL, page.keys.ARROW_RIGHT)
  expect(await chosen()).toEqual(['Clay', 'Flat colour', 'Occlusion, warm'])
  expect(await heading()).toBe('3 layers')
  expect(await violations(page)).toEqual([])
  await page.press('h')
  const hidden = () =>
    page.driver.executeScript<number>("return document.querySelectorAll('.card[data-hidden=true]').length")
  await page.until('three more are hidden', async () => (await hidden()) === 4)
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('they are shown again', async () => (await hidden()) === 1)
  await page.press('g')
  await page.until('they lie in a group', async () => (await cards()).includes('Group'))
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('the group is gone', async () => !(await cards()).includes('Group'))
  // By pointer: one, then all up to another, then one of them no longer.
  await page.click('[data-testid="card-Clay"]')
  const press = async (name: string, key: string) =>
    page.driver
      .actions()
      .keyDown(key)
      .click(await page.css(`[data-testid="card-${name}"]`))
      .keyUp(key)
      .perform()
  await press('Cavity', page.keys.SHIFT)
  expect(await chosen()).toEqual(['Clay', 'Flat colour', 'Occlusion, warm', 'Cavity'])
  await press('Flat colour', page.keys.CONTROL)
  expect(await chosen()).toEqual(['Clay', 'Occlusion, warm', 'Cavity'])
  await page.press(page.keys.ESCAPE)
  expect(await chosen()).toHaveLength(1)
})

it('begins a project with a recipe and a model, renders what it needs, and ends on the sheet', async () => {
  await page.driver.get(page.address)
  await page.click('[data-testid=recipe-pencil-sheet]')
  expect(await violations(page)).toEqual([])
  await (
    await page.css('[data-testid=begin-input]')
  ).sendKeys(path.join(import.meta.dirname, '..', 'demo', 'open-water.glb'))
  await page.until('the sheet is open', async () => /\/sheet$/.test(await page.driver.getCurrentUrl()))
  await page.css('[data-testid="card-Second thoughts"]')
  await page.until('its passes are rendered', () =>
    page.driver.executeScript<boolean>(
      "return document.querySelectorAll('.rack .card').length > 4 && document.querySelectorAll('.rack [data-register=out]').length === 0",
    ),
  )
  expect(await violations(page)).toEqual([])
})
