import { readdirSync } from 'node:fs'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'

/** An illustration from nothing, without a pointer: only keys, and what is read from the screen. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
})
afterAll(async () => {
  await page?.close()
})

/** Does what is offered under a name, by the finder. */
async function find(name: string): Promise<void> {
  await page.chord(page.keys.CONTROL, 'k')
  const search = await page.css('[role=dialog] input')
  await search.sendKeys(name)
  await search.sendKeys(page.keys.ENTER)
  await page.until('the finder is closed', async () =>
    page.driver.executeScript<boolean>("return !document.querySelector('[role=dialog] input')"),
  )
}
const has = (selector: string) =>
  page.driver.executeScript<boolean>('return document.querySelector(arguments[0]) !== null', selector)
const cards = () =>
  page.driver.executeScript<string[]>(
    "return [...document.querySelectorAll('.rack [data-layer]')].map((e) => e.dataset.testid.replace('card-', ''))",
  )
const step = async (name: string) => {
  await find(`Go to ${name}`)
  await page.until(`${name} is open`, async () =>
    (await page.driver.getCurrentUrl()).endsWith(`/${name.toLowerCase()}`),
  )
}

it('goes from an empty project to a graded picture and its file', async () => {
  // 1. A project and its model.
  await page.driver.get(page.address)
  await page.css('.project-card')
  await page.press('n')
  await page.until('the project is open', async () =>
    /\/project\/.*\/models$/.test(await page.driver.getCurrentUrl()),
  )
  await page.text('h2', 'Bring in a model')
  await find('Add the demo model')
  await page.css('.parts[role=tree]')
  expect(await violations(page)).toEqual([])

  // 2. Its passes.
  await step('Passes')
  await page.press('d')
  await step('Sheet')
  // 3. A first stack, once something is rendered.
  await page.css('[data-testid=first-stack]')
  await page.until('all is rendered', () => has('[data-testid=first-stack]:not(:disabled)'))
  await page.until('no render is under way', async () => !/Rendering \d+ %/.test(await page.bodyText()))
  await find('Hang a first stack')
  await page.until('layers hang', async () => (await cards()).includes('Contour'))
  await page.until('its picture stands', async () => (await page.pixel('Proof', 0.5, 0.5))[3] === 255)

  // 4. A mask from a list: occlusion on the roof alone. Chosen, opened and ticked by keys.
  await find('Layer: Occlusion, warm')
  const term = await page.css('[data-testid=add-term]')
  await term.sendKeys(page.keys.ENTER)
  const parts = await page.css('[data-testid=term-parts]')
  await parts.sendKeys(page.keys.ENTER)
  const search = await page.css('.term-editor input[aria-label=Search]')
  await search.sendKeys('roof')
  const roof = await page.css('.pick-list input[type=checkbox]')
  await roof.sendKeys(page.keys.SPACE)
  await page.css('[data-testid="card-Occlusion, warm"] .card-corner')
  await page.press(page.keys.ESCAPE)

  // 5. Grouped, weakened, and a wash over all of it with an effect found by its name.
  await find('Layer: Clay')
  await page.chord(page.keys.CONTROL, page.keys.ARROW_RIGHT)
  await page.press('g')
  await page.until('they lie in a group', async () => (await cards()).includes('Group'))
  await find('Layer: Contour')
  for (let i = 0; i < 4; i++) await page.press(page.keys.ARROW_DOWN)
  await page.press('w')
  await page.until('a wash hangs', async () => (await cards()).includes('Levels wash'))
  // As fine as it is: while hands move it may be coarser.
  const before = await page.until('the proof is at rest', async () => {
    const found = await page.pixel('Proof', 0.5, 0.5)
    await page.driver.sleep(2500)
    return found.join() === (await page.pixel('Proof', 0.5, 0.5)).join() && found
  })
  const add = await page.css('[data-testid=add-effect]')
  await add.sendKeys(page.keys.ENTER)
  await (await page.css('.effect-chooser input')).sendKeys('invert', page.keys.ENTER)
  await page.until('the picture is turned', async () => {
    const now = await page.pixel('Proof', 0.5, 0.5)
    return Math.abs(now[0] - (255 - before[0])) < 12
  })
  await page.chord(page.keys.CONTROL, 'z')
  expect(await violations(page)).toEqual([])

  // 6. Kept, looked at in grey, compared, and taken as a recipe.
  await find('Keep this state of the sheet')
  await page.press('y')
  await page.press('y')
  await page.press('c')
  await page.css('[data-testid=compare]')
  await page.press('c')
  await page.press('r')
  const save = await page.css('[data-testid=save-recipe]')
  await save.sendKeys(page.keys.ENTER)
  await (await page.css('.recipe-form input[name=name]')).sendKeys(page.keys.END, ' by keys', page.keys.ENTER)
  await page.xpath("//button[contains(@class, 'recipe-card')][contains(., 'by keys')]")
  await page.press('r')

  // 7. Out, as a file.
  await step('Export')
  const out = await page.css('[data-testid=export-sheet]')
  await out.sendKeys(page.keys.ENTER)
  await page.until('a file is there', async () =>
    readdirSync(page.downloads).some((name) => name.endsWith('.png')),
  )
})
