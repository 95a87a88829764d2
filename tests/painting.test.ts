import { afterAll, beforeAll, expect, it } from 'vitest'
import { paintNames } from '@/core/paint/paint-names'
import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

/** Painting over the demo: by mouse and by keys, confined, undone, over a reload, and cut off in the middle. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.openDemoSheet()
})
afterAll(async () => {
  await page?.close()
})

const stored = async (): Promise<Project> => {
  await page.saved()
  return storedProject(page, 'low-water')
}
const layerNamed = async (name: string) =>
  Object.values(activeSheet(await stored()).nodes).find((node) => node.name === name)
/** A colour of the proof, once it stands. */
const colourAt = (x: number, y: number) =>
  page.until('the proof stands', async () => {
    const found = await page.pixel('Proof', x, y)
    return found.length === 4 && found
  })
const differs = (a: readonly number[], b: readonly number[]) =>
  Math.max(...a.map((v, i) => Math.abs(v - b[i]))) > 12

/** Draws through places of the proof, 0…1. @param isHeld leaves the button down. */
async function draw(places: readonly (readonly [number, number])[], isHeld = false): Promise<void> {
  const box = await (await page.css('[data-testid=paint-overlay]')).getRect()
  const at = ([x, y]: readonly [number, number], duration: number) => ({
    x: Math.round(box.x + x * box.width),
    y: Math.round(box.y + y * box.height),
    duration,
  })
  let actions = page.driver.actions({ async: true }).move(at(places[0], 0)).press()
  for (const place of places.slice(1)) actions = actions.move(at(place, 80))
  await (isHeld ? actions : actions.release()).perform()
}
const hardRound = async () => {
  await page.click('[data-testid=tip-hardRound]')
  await page.until('the tip is in hand', async () => (await page.bodyText()).includes('Hard round'))
}
const settled = () => page.proofAtRest()

it('lays colour on a layer of its own, which can be undone and lasts', async () => {
  await (await page.css('[data-testid="card-Evening light"]')).click()
  await page.chord(page.keys.SHIFT, 'b')
  await page.css('[data-testid=paint-overlay]')
  await hardRound()
  await settled()
  const before = await colourAt(0.3, 0.2)
  await draw([
    [0.15, 0.2],
    [0.3, 0.2],
    [0.45, 0.2],
  ])
  await page.css('[data-testid="card-Paint"]')
  await page.until('it is painted', async () => differs(await colourAt(0.3, 0.2), before))
  expect(await violations(page)).toEqual([])
  const after = await colourAt(0.3, 0.2)
  const paint = (await layerNamed('Paint'))?.content
  expect(paint?.kind === 'painted' && Object.keys(paint.tiles).length).toBeGreaterThan(1)
  // A step back, and forth again.
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('it is taken back', async () => !differs(await colourAt(0.3, 0.2), before))
  await page.driver
    .actions()
    .keyDown(page.keys.CONTROL)
    .keyDown(page.keys.SHIFT)
    .sendKeys('z')
    .keyUp(page.keys.SHIFT)
    .keyUp(page.keys.CONTROL)
    .perform()
  await page.until('it is painted again', async () => differs(await colourAt(0.3, 0.2), before))
  await stored()
  await page.driver.navigate().refresh()
  await page.css('[data-testid="card-Paint"]')
  await page.until('it stands after a reload', async () => !differs(await colourAt(0.3, 0.2), after))
  await page.until('and is taken back by the history that was kept', async () => {
    if (differs(await colourAt(0.3, 0.2), before)) await page.chord(page.keys.CONTROL, 'z')
    await page.driver.sleep(700)
    return !differs(await colourAt(0.3, 0.2), before)
  })
})

it('stays in the part it starts on, with nothing outside', async () => {
  await page.chord(page.keys.SHIFT, 'b')
  await hardRound()
  const select = await page.css('#paint-stays')
  await page.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', select)
  await page.choose('#paint-stays', 'parts')
  await settled()
  // From the quay’s wall out over the water.
  const [wall, water] = [await colourAt(0.6, 0.85), await colourAt(0.97, 0.7)]
  await draw([
    [0.6, 0.85],
    [0.8, 0.8],
    [0.97, 0.7],
  ])
  await page.until('the wall is painted', async () => differs(await colourAt(0.6, 0.85), wall))
  await settled()
  expect(differs(await colourAt(0.97, 0.7), water)).toBe(false)
  await page.choose('#paint-stays', 'nothing')
})

it('takes a layer away so that what lies beneath shows, and brings it back', async () => {
  await (await page.css('[data-testid="card-Flat colour"]')).click()
  await page.click('[data-testid=paint-reveal]')
  await settled()
  const before = await colourAt(0.2, 0.6)
  await draw([
    [0.1, 0.6],
    [0.2, 0.6],
    [0.3, 0.6],
  ])
  await page.until('it is revealed', async () => differs(await colourAt(0.2, 0.6), before))
  const terms = (await layerNamed('Flat colour'))?.mask?.terms
  expect(terms?.at(-1)).toMatchObject({ kind: 'painted', join: 'intersect', outside: true })
  await page.click('[data-testid=paint-restore]')
  for (let i = 0; i < 3; i++)
    await draw([
      [0.1, 0.6],
      [0.3, 0.6],
      [0.1, 0.6],
    ])
  await page.until('it is back', async () => !differs(await colourAt(0.2, 0.6), before))
})

it('says why it cannot, and what can', async () => {
  await page.click('[data-testid=paint-erase]')
  await draw([
    [0.5, 0.5],
    [0.55, 0.5],
  ])
  await page.until('it is said', async () =>
    (await page.bodyText()).includes('Erase works on a painted layer'),
  )
})

it('is led by keys alone', async () => {
  await page.click('[data-testid=paint-paint]')
  const overlay = await page.css('[data-testid=paint-overlay]')
  await settled()
  const before = await colourAt(0.5, 0.5)
  await page.driver.executeScript('arguments[0].focus()', overlay)
  await page.driver.actions().sendKeys(' ').perform()
  for (let i = 0; i < 6; i++) await page.driver.actions().sendKeys(page.keys.ARROW_RIGHT).perform()
  await page.driver.actions().sendKeys(' ').perform()
  await page.until('it is painted', async () => differs(await colourAt(0.5, 0.5), before))
  await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
  await page.until('painting has ended', async () =>
    page.driver.executeScript<boolean>('return !document.querySelector("[data-testid=paint-overlay]")'),
  )
})

it('takes up a colour that is seen, and begins with chalk in one press', async () => {
  await page.chord(page.keys.SHIFT, 'b')
  const box = await (await page.css('[data-testid=paint-overlay]')).getRect()
  const [r, g, b] = await colourAt(0.1, 0.9)
  await page.driver
    .actions()
    .keyDown(page.keys.ALT)
    .move({ x: Math.round(box.x + 0.1 * box.width), y: Math.round(box.y + 0.9 * box.height) })
    .click()
    .keyUp(page.keys.ALT)
    .perform()
  const well = await page.css('input[aria-label="First colour"]')
  await page.until('the well holds it', async () => {
    const value = (await well.getAttribute('value')) ?? ''
    const found = [1, 3, 5].map((at) => parseInt(value.slice(at, at + 2), 16))
    return !differs(found, [r, g, b])
  })
  await (await page.text('button', 'Reveal with chalk')).click()
  await page.css('[data-testid=paint-reveal][aria-pressed=true]')
  await page.css('[data-testid=tip-chalk][aria-pressed=true]')
  await (await page.text('button', 'Grain of light')).click()
  await page.css('[data-testid="card-Grain of light"]')
  expect((await layerNamed('Grain of light'))?.mode).toBe('screen')
  await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
})

it('keeps a stroke that was cut off in its middle', async () => {
  await page.chord(page.keys.SHIFT, 'b')
  await hardRound()
  await settled()
  const before = await colourAt(0.3, 0.3)
  const names = paintNames([activeSheet(await stored())]).size
  await draw(
    [
      [0.2, 0.3],
      [0.3, 0.3],
      [0.4, 0.3],
    ],
    true,
  )
  await page.driver.sleep(600)
  // The tab goes while the pen is down.
  await page.driver.navigate().refresh()
  await page.css('.card')
  await page.until('the stroke is there', async () => differs(await colourAt(0.3, 0.3), before))
  await page.until(
    'and part of the document',
    async () => paintNames([activeSheet(await stored())]).size > names,
  )
  await page.driver.actions().release().perform()
})
