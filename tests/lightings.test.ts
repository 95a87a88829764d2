import { afterAll, beforeAll, expect, it } from 'vitest'
import { BenchPage } from './bench-page'
import { blockProject, fileWriter, frameShot } from './block-model'
import { openId, storedProject } from './stored-project'

/** A clay picture of the block in which the block alone is lit by another rig: by pointer, then by keyboard, and back. */
let page: BenchPage
const file = fileWriter()

beforeAll(async () => {
  page = await BenchPage.open()
  await blockProject(page, file)
  await frameShot(page, 160, 100)
})
afterAll(async () => {
  await page?.close()
})

const cards = async () => (await page.driver.findElements({ css: '.card' })).length
const ready = (count: number) =>
  page.until(
    `${count} passes are ready`,
    async () => (await page.driver.findElements({ css: '.contact-cell[data-state=ready]' })).length >= count,
  )
const BLOCK = [0.38, 0.32] as const
const PLATE = [0.3, 0.6] as const
const proof = async () => [await page.pixel('Proof', ...BLOCK), await page.pixel('Proof', ...PLATE)]
/** The proof's two pixels once they rest. */
const rested = async () => {
  let last = ''
  await page.until('the proof rests', async () => {
    await page.driver.sleep(600)
    const seen = await proof()
    const now = JSON.stringify(seen)
    // Before there is a canvas nothing is seen, again and again.
    const isSame = now === last && seen.every((pixel) => pixel.length > 0)
    last = now
    return isSame
  })
  return proof()
}
const distance = (a: readonly number[], b: readonly number[]) =>
  Math.max(...a.map((v, i) => Math.abs(v - b[i])))

it('renders a second lighting of a pass, and tells which rig lights which', async () => {
  await page.click('.rail a[href$="/passes"]')
  await page.click('[data-testid=pass-clay]')
  expect(await (await page.css('[data-testid=pass-rig]')).getAttribute('value')).toBe('')
  await page.click('[data-testid=second-lighting]')
  const rig = await page.css('[data-testid=pass-rig]')
  expect(await rig.getAttribute('value')).not.toBe('')
  await page.click('[data-testid=render-draft]')
  await ready(7)
  await page.saved()
  const { passes, rigs } = await storedProject(page, await openId(page))
  const [first, second] = passes.filter(({ kind }) => kind === 'clay')
  expect(first.rigId).toBeNull()
  expect(second.name).toBe(`Clay, ${rigs.find(({ id }) => id === second.rigId)?.name}`)
  expect(second.rendered?.lights.map(({ id }) => id)).not.toEqual(first.rendered?.lights.map(({ id }) => id))
})

it('takes a material from it by one press, seen in the proof, and back by one undo', async () => {
  await page.click('[data-testid=pass-clay]')
  await page.click('[data-testid=to-sheet]')
  await page.css('.card')
  const before = await rested()
  await page.click('[data-testid=lighting-take] optgroup[label=Materials] option:nth-of-type(2)')
  await page.until('its layer hangs', async () => (await cards()) === 2)
  const joined = await rested()
  expect(distance(joined[0], before[0])).toBeGreaterThan(6)
  expect(distance(joined[1], before[1])).toBeLessThanOrEqual(1)
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('it is taken back', async () => (await cards()) === 1)
  expect(distance((await rested())[0], before[0])).toBeLessThanOrEqual(1)
})

it('does so by keyboard', async () => {
  await page.click('[data-testid="card-Clay"]')
  await page.driver.executeScript(`document.querySelector('[data-testid=lighting-take]').focus()`)
  await page.driver.actions().sendKeys(page.keys.SPACE, 'Red', page.keys.ENTER).perform()
  await page.until('its layer hangs', async () => (await cards()) === 2)
})
