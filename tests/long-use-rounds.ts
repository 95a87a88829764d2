import { BenchPage } from './bench-page'
import { fileWriter, frameShot } from './block-model'
import { ballFile } from './heavy-ball'
import { grown, LongUse, type Held } from './long-use'
import { hangDrafts } from './random-user'
import { openId } from './stored-project'

/** Half a thousand rows of a ball are a million triangles. */
const ROWS = 500
const LAYERS = 60
/** Rounds after which everything that is made once was made, and between two looks at what is held. */
const [WARM, BETWEEN] = [3, 5]

/** A project of a million triangles with a sheet of sixty layers, open at its sheet. */
async function largeProject(page: BenchPage): Promise<string> {
  await page.driver.get(page.address)
  await page.click('[data-testid=new-project]')
  await (await page.css('[data-testid=model-input]')).sendKeys(fileWriter()('ball.stl', ballFile(ROWS)))
  await page.until('the ball is seen', () =>
    page.driver.executeScript<boolean>(
      "return document.querySelector('[data-testid=models-view]')?.dataset.drawn === 'true'",
    ),
  )
  const id = await openId(page)
  await frameShot(page, 1200, 750)
  await hangDrafts(page)
  const cards = async () => (await page.driver.findElements({ css: '.card' })).length
  for (let n = await cards(); n < LAYERS; n++) {
    await page.press(n % 3 === 0 ? page.keys.ARROW_LEFT : page.keys.ARROW_RIGHT)
    await page.press('d')
  }
  await page.until('there are as many layers', async () => (await cards()) >= LAYERS)
  await page.saved()
  return id
}

const told = (held: Held): string =>
  Object.entries(held)
    .map(([name, value]) => `${name} ${value > 1e6 ? `${(value / 2 ** 20).toFixed(0)} MB` : value}`)
    .join(', ')

/**
 * Works for as long as asked for, and looks now and then at what is held.
 * @param minutes of it. @returns 1 where more is held at the end than at the beginning, else 0.
 */
export async function main(minutes: number): Promise<number> {
  const page = await BenchPage.open()
  try {
    const use = new LongUse(page, await largeProject(page))
    await use.begin()
    for (let i = 0; i < WARM; i++) await use.round()
    const before = await use.held({ isWhole: true })
    console.log(`begun: ${told(before)}`)
    const end = Date.now() + minutes * 60_000
    let rounds = 0
    let after = before
    do {
      for (let i = 0; i < BETWEEN; i++) await use.round()
      rounds += BETWEEN
      after = await use.held({ isWhole: true })
      console.log(`${new Date().toISOString().slice(11, 16)}, ${rounds} rounds: ${told(after)}`)
    } while (Date.now() < end)
    const problem = grown(before, after) ?? (await use.leftOver())
    console.log(problem ?? `after ${rounds} rounds no more is held than before, but for a tenth`)
    return problem === null ? 0 : 1
  } finally {
    await page.close()
  }
}
