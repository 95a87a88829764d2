import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'

/** All that can be pressed or filled in is found by its name, at every step. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
})
afterAll(async () => {
  await page?.close()
})

const begin = async (words: string) => {
  await page.chord(page.keys.CONTROL, 'k')
  const search = await page.css('[role=dialog] input')
  await search.sendKeys(words)
  return search
}
const listed = () =>
  page.driver.executeScript<string[]>(
    `return [...document.querySelectorAll('#finder-list li > span')].map((own) => own.firstChild.textContent.trim())`,
  )
const closed = () =>
  page.until('the finder is gone', () =>
    page.driver.executeScript<boolean>("return !document.querySelector('[role=dialog] input')"),
  )

/** Names of all that can be pressed or filled in, as the browser computes them for assistive technology. */
async function spoken(): Promise<string[]> {
  const found = await page.driver.findElements({
    css: ':is(.bench, main) :is(button, a[href], select, textarea, input:not([type=file]), [role=slider], [role=switch])',
  })
  const names = await Promise.all(
    found.map(async (own) =>
      (await own.isDisplayed()) && (await own.isEnabled())
        ? (await own.getAccessibleName()).replace(/\s+/g, ' ').trim()
        : '',
    ),
  )
  return [...new Set(names.filter((name) => name !== ''))]
}

const plain = (name: string): string =>
  name
    .replace(/[\s,]+/g, ' ')
    .trim()
    .toLowerCase()

describe('the finder', () => {
  it.each([
    ['', '[data-testid=demo-illustration]'],
    ['project/low-water/models', '.part-row'],
    ['project/low-water/shot', '[data-testid=lock]'],
    ['project/low-water/passes', '.contact-cell'],
    ['project/low-water/sheet', '.card'],
    ['project/low-water/poster', '.depth-rail .part'],
    ['project/brass-gauge/turntable', '[data-testid=playhead]'],
    ['project/low-water/export', '[data-testid=export-sheet]'],
  ])('knows all that stands on the screen: %s', async (address, there) => {
    await page.go(`/${address}`)
    await page.css(there)
    // What is read from storage, or looked for, comes a moment later.
    await page.driver.sleep(2500)
    const wanted = await spoken()
    expect(wanted.length).toBeGreaterThan(10)
    const search = await begin('a')
    const known = new Set<string>()
    const look = async (words: string) => {
      await search.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), words)
      for (const name of await listed()) known.add(plain(name))
    }
    const unknown = () => wanted.filter((name) => /[a-z0-9]/i.test(name) && !known.has(plain(name)))
    for (const letter of 'aeiou') await look(letter)
    for (const name of unknown()) await look(name)
    await search.sendKeys(page.keys.ESCAPE)
    await closed()
    expect(unknown()).toEqual([])
  })

  it('presses what is pressed, and goes to what is filled in', async () => {
    await page.go('/project/low-water/sheet')
    await (await page.css('[data-testid="card-Cavity"]')).click()
    const opacity = await begin('opacity layer')
    expect(await listed()).toContain('Opacity')
    expect(await violations(page)).toEqual([])
    await opacity.sendKeys(page.keys.ENTER)
    await closed()
    await page.until('the field has the focus', async () =>
      page.driver.executeScript<boolean>(
        `const own = document.activeElement
         return own.matches('input') && /Opacity/.test(own.getAttribute('aria-label') ?? own.labels?.[0]?.textContent ?? '')`,
      ),
    )
    await page.driver.executeScript('document.activeElement.blur()')
    const small = await begin('small cards')
    await small.sendKeys(page.keys.ARROW_DOWN, page.keys.ENTER)
    await closed()
    await page.text('button', 'Large cards')
  })
})
