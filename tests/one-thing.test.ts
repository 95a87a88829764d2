import { unzipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

/** One material changed on the last day: rendered where it shows, compared, on the sheet and in its files, by pointer and by keyboard. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.text('*', 'Low Water')
  await page.go(`/project/${ID}/passes`)
  await page.css('[data-testid=pass-clay]')
})
afterAll(async () => {
  await page?.close()
})

const ID = 'low-water'
const ZIP = 'Low Water_batch.zip'
const words = async (selector: string) => (await page.css(selector)).getText()
const shownBy = () => words('[data-testid=shown-by]')
const litNow = async () => {
  await page.saved()
  const { passes, before } = await storedProject(page, ID)
  const lit = passes.find(({ kind }) => kind === 'lit')
  return { rendered: lit?.rendered ?? null, was: before.find(({ id }) => id === `before ${lit?.id}`) ?? null }
}
const recolour = (value: string) =>
  page.driver.executeScript(
    `const field = document.querySelector('[data-testid=one-thing] input[type=color]')
     Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, arguments[0])
     field.dispatchEvent(new Event('input', { bubbles: true }))`,
    value,
  )
const cells = () =>
  page.driver.executeScript<string[][]>(
    'return [...document.querySelectorAll("[data-testid=batch-rows] tr")].map(row => [...row.cells].map(cell => cell.textContent))',
  )

describe('one thing again', () => {
  it('is opened by a key, and says what would show it where nothing does', async () => {
    await page.press('o')
    await page.css('[data-testid=one-thing]')
    expect(await violations(page)).toEqual([])
    await page.click('[data-testid=render-lit]')
    await page.until('it is shown by a lit pass', async () => /Lit/.test(await shownBy()))
  })
  it('renders again only what shows it, and keeps what was beside it', async () => {
    const material = await page.css('[data-testid=one-material]')
    const copper = await material.findElement({ xpath: './/option[contains(., "Copper")]' })
    await copper.click()
    await page.until('how much shows it is told', async () =>
      /^Lit\s+\d+ % of it, as it is$/.test(await shownBy()),
    )
    const share = Number(/(\d+) %/.exec(await shownBy())?.[1])
    expect(share).toBeLessThan(40)
    const { rendered: old, was: none } = await litNow()
    expect(none).toBeNull()
    await recolour('#3355cc')
    await page.until('that it changed is told', async () => / changed$/.test(await shownBy()))
    await page.click('[data-testid=render-one-thing]')
    await page.until(
      'it is compared',
      async () => (await page.driver.findElements({ css: '[data-testid=compare]' })).length > 0,
    )
    const { rendered, was } = await litNow()
    expect(was?.rendered?.resultId).toBe(old?.resultId)
    expect(rendered?.resultId).not.toBe(old?.resultId)
    // Only the tiles that show it were traced.
    expect(rendered?.rays).toBeLessThan(0.75 * (old?.rays ?? 0))
    expect(await violations(page)).toEqual([])
  })
  it('is seen beside what was: on the pass by a seam, and on the sheet', async () => {
    const seam = await page.css('[role=slider][aria-label=Seam]')
    await seam.sendKeys(page.keys.ARROW_LEFT, page.keys.ARROW_LEFT)
    await page.until('it moved', async () => (await seam.getAttribute('aria-valuenow')) === '46')
    await page.choose('select[aria-label="Compare by"]', 'difference')
    await page.until(
      'the difference is seen',
      async () => (await (await page.css('[data-testid=compare]')).getAttribute('data-by')) === 'difference',
    )
    await page.choose('select[aria-label="Compare by"]', 'seam')
    await page.click('[data-testid=compare-on-sheet]')
    await page.until('the sheet is', async () =>
      /Before one thing/.test(await words('[data-testid=compare]')),
    )
    await page.go(`/project/${ID}/passes`)
    await page.css('[data-testid=pass-clay]')
    await page.press('o')
    await page.css('[data-testid=swap-before]')
  })
  it('changes places with what was, and stays when that is let go of', async () => {
    const { rendered, was } = await litNow()
    await (await page.css('[data-testid=swap-before]')).sendKeys(page.keys.ENTER)
    await page.until(
      'it changed places',
      async () => (await litNow()).rendered?.resultId === was?.rendered?.resultId,
    )
    await (await page.css('[data-testid=swap-before]')).sendKeys(page.keys.ENTER)
    await page.until('it is back', async () => (await litNow()).rendered?.resultId === rendered?.resultId)
    await (await page.css('[data-testid=let-go-before]')).sendKeys(page.keys.ENTER)
    await page.until('what was is gone', async () => (await litNow()).was === null)
    expect((await litNow()).rendered?.resultId).toBe(rendered?.resultId)
  })
})

describe('its files', () => {
  const begin = async () => {
    await page.go(`/project/${ID}/export`)
    await page.css('[data-testid=open-batch]')
  }
  const only = (...names: string[]) =>
    page.driver.executeScript(
      `for (const box of document.querySelectorAll('.batch-what input')) {
         const own = box.parentElement.querySelector('span').textContent
         if (box.checked !== arguments[0].includes(own)) box.click()
       }`,
      names,
    )
  const write = async () => {
    page.forget(ZIP)
    await page.click('[data-testid=batch-start]')
    await page.until('it is written', async () =>
      /is with your downloads/.test(await words('[data-testid=batch-told]')),
    )
    return Object.keys(unzipSync(await page.download(ZIP)))
  }
  it('are written, and known to show the same afterwards, over a reload too', async () => {
    await begin()
    await page.press('m')
    await page.css('[data-testid=batch-rows]')
    await page.choose('[data-testid=batch-purpose]', 'screen')
    await only('Clay', 'Lit')
    expect((await write()).sort()).toEqual(['Low Water_Clay.png', 'Low Water_Lit.png'])
    await page.until('both are known', async () =>
      (await cells()).every(([, , state]) => state === 'written' || state === 'as it was'),
    )
    await page.saved()
    await page.driver.navigate().refresh()
    await begin()
    await page.press('m')
    await page.until('they are as they were', async () => {
      const states = (await cells()).map(([, , state]) => state)
      return states.length === 2 && states.every((state) => state === 'as it was')
    })
  })
  it('are written again where they changed, and no other', async () => {
    await page.go(`/project/${ID}/passes`)
    await page.css('[data-testid=pass-clay]')
    await page.press('o')
    await (
      await (
        await page.css('[data-testid=one-material]')
      ).findElement({ xpath: './/option[contains(., "Copper")]' })
    ).click()
    await recolour('#aa3311')
    await page.until('that it changed is told', async () => / changed$/.test(await shownBy()))
    await page.click('[data-testid=render-one-thing]')
    await page.css('[data-testid=write-changed]')
    await page.click('[data-testid=write-changed]')
    await page.until('one is left', async () => {
      const rows = await cells()
      return rows.length === 1 && rows[0][0] === 'Low Water_Lit.png' && rows[0][2] === 'changed'
    })
    expect(await write()).toEqual(['Low Water_Lit.png'])
  })
})
