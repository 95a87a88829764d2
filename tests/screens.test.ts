import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'

/** Every screen, on both benches: for those who hear it or see little, and for what it may fetch and run. */
let page: BenchPage

beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.css('.project-card')
})
afterAll(async () => {
  await page?.close()
})

const open = async (step: string) => {
  await page.go(`/project/low-water/${step}`)
  await page.css('.bench-main')
}
const press = async (words: string) => (await page.xpath(`//button[normalize-space(.)="${words}"]`)).click()
const card = (name: string) => page.click(`[data-testid="card-${name}"]`)

/** What is looked at in each step: how to come there, and what must be seen first. */
const LOOKS: readonly (readonly [string, () => Promise<unknown>])[] = [
  ['projects', () => page.go('/').then(() => page.css('.project-card'))],
  ['models', () => open('models').then(() => page.css('.part-row'))],
  ['models, materials', () => press('Materials')],
  ['models, place', () => press('Place')],
  ['shot', () => open('shot').then(() => page.css('[data-testid=lock]'))],
  ['shot, light', () => press('Light')],
  ['shot, moves', () => press('Moves')],
  ['passes', () => open('passes').then(() => page.css('[data-testid=pass-clay]'))],
  ['passes, one thing again', () => page.press('o').then(() => page.css('[data-testid=one-thing]'))],
  ['sheet', () => open('sheet').then(() => page.css('.card'))],
  ['sheet, a pass', () => card('Clay')],
  ['sheet, lines', () => card('Contour')],
  ['sheet, a mask', () => card('Far haze')],
  ['sheet, compared', () => press('Compare')],
  ['sheet, its menu', () => page.click('[data-testid=add-layer]').then(() => page.css('[role=menu]'))],
  [
    'poster',
    async () => {
      await open('poster')
      await page.click('.series .format:not(.mockup)')
      await page.css('.part')
    },
  ],
  ['poster, its formats', () => page.click('[data-testid=add-format]').then(() => page.css('[role=menu]'))],
  [
    'poster, type',
    async () => {
      await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
      await page.click('.page-list li:nth-of-type(2) .row-name')
      await page.css('[data-testid=edit-type]')
    },
  ],
  ['poster, fonts', () => page.click('[data-testid=family]').then(() => page.css('[role=menu]'))],
  [
    'poster, edited',
    async () => {
      await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
      await page.click('[data-testid=edit-type]')
      await page.css('[data-testid=type-text]')
    },
  ],
  [
    'poster, in inks',
    async () => {
      await page.driver.actions().sendKeys(page.keys.ESCAPE, page.keys.ESCAPE).perform()
      await page.click('.series .format:not(.mockup)')
      await (await page.css('.series select option[value=stone-and-copper]')).click()
      await page.css('.ink-list')
    },
  ],
  [
    'a mock-up',
    async () => {
      await page.click('.series .format.mockup')
      await page.css('[data-testid=look-around]')
    },
  ],
  [
    'a mock-up, its paper',
    async () => {
      await page.click('.page-list .row-name')
      await page.css('#mockup-rig')
    },
  ],
  ['export', () => open('export').then(() => page.css('[data-testid=export-sheet]'))],
  ['many files', () => page.press('m').then(() => page.css('[data-testid=batch-rows]'))],
  [
    'the finder',
    async () => {
      await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
      await page.until(
        'the table is gone',
        async () => (await page.driver.findElements({ css: '[role=dialog]' })).length === 0,
      )
      await page.chord(page.keys.CONTROL, 'k')
      await page.css('#finder-list')
    },
  ],
  [
    'all shortcuts',
    async () => {
      await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
      await page.until(
        'the finder is gone',
        async () => (await page.driver.findElements({ css: '[role=dialog]' })).length === 0,
      )
      await press('Keys')
      await page.css('#shortcuts-title')
    },
  ],
  ['an address that leads nowhere', () => page.driver.get(`${page.address}/nowhere`)],
]

describe.each(['day', 'night'])('on the %s bench', (bench) => {
  it('is without a violation that axe-core knows of, and fetches nothing from elsewhere, on every screen', async () => {
    await page.driver.manage().logs().get('browser')
    await open('sheet')
    await page.css('.card')
    const wanted = bench === 'night' ? 'Night' : 'Day'
    for (const button of await page.driver.findElements({ xpath: `//header//button[text()="${wanted}"]` }))
      await button.click()
    const found: string[] = []
    for (const [name, come] of LOOKS) {
      await come()
      // Transitions over.
      await page.driver.sleep(450)
      // What is beside what, and how it is named, does not depend on the bench: only its colours are looked at again.
      const rules = bench === 'night' ? ['color-contrast', 'link-in-text-block'] : undefined
      found.push(...(await violations(page, rules)).map((text) => `${name}: ${text}`))
      const foreign = await page.driver.executeScript<string[]>(
        `return performance.getEntriesByType('resource').map((e) => e.name)
           .filter((name) => !name.startsWith(location.origin) && !/^(blob|data):/.test(name))`,
      )
      found.push(...foreign.map((address) => `${name}: ${address}`))
    }
    expect(found).toEqual([])
    const logs = await page.driver.manage().logs().get('browser')
    expect(logs.map((l) => l.message).filter((m) => /Content.Security.Policy|violates/i.test(m))).toEqual([])
  })
})

describe('what is served', () => {
  it('says what it may run and fetch', async () => {
    const policies = () =>
      page.driver.executeAsyncScript<Record<string, string | null>>(
        `const done = arguments[arguments.length - 1]
         fetch(location.href).then((r) => done(Object.fromEntries(arguments[0].map((n) => [n, r.headers.get(n)]))))`,
        ['content-security-policy', 'x-content-type-options', 'referrer-policy', 'permissions-policy'],
      )
    await page.driver.get(page.address)
    const headers = await policies()
    expect(headers['content-security-policy']).toMatch(/script-src 'self' 'nonce-[^']+' 'wasm-unsafe-eval';/)
    expect(headers['content-security-policy']).toMatch(/object-src 'none'.*worker-src 'self'/)
    expect(headers['content-security-policy']).not.toMatch(/unsafe-eval'(?!;)|https?:/)
    expect(headers['x-content-type-options']).toBe('nosniff')
    expect(headers['referrer-policy']).toBe('no-referrer')
    expect(headers['permissions-policy']).toContain('camera=()')
  })
  it('runs no script that was written into the page', async () => {
    await page.driver.get(page.address)
    await page.css('.project-card')
    const ran = await page.driver.executeAsyncScript<boolean>(
      `const done = arguments[arguments.length - 1]
       const script = document.createElement('script')
       script.textContent = 'window.wasRun = true'
       document.body.append(script)
       setTimeout(() => done(window.wasRun === true), 200)`,
    )
    expect(ran).toBe(false)
  })
})

describe('a sheet that takes a while', () => {
  it('tells how far it is, and is seen piece by piece', async () => {
    // Its first picture is asked for so late that it is told of, however quick the machine.
    await page.beginWith(
      `window.Worker = class extends Worker {
         postMessage(message, ...rest) {
           if (message?.type !== 'show' || window.isAsked) return super.postMessage(message, ...rest)
           window.isAsked = true
           setTimeout(() => super.postMessage(message, ...rest), 900)
         }
       }
       window.seen = { told: [], early: false, isWhole: false }
       const look = () => {
         if (seen.isWhole) return
         const words = document.querySelector('.composing')
         const said = words && words.textContent + '; ' + words.getAttribute('aria-valuenow')
         if (said && said !== seen.told.at(-1)) seen.told.push(said)
         const canvas = document.querySelector('[data-testid=proof] canvas')
         seen.isWhole = canvas?.getAttribute('role') === 'img'
         if (!seen.isWhole) seen.early ||= canvas !== null && getComputedStyle(canvas).opacity === '1'
       }
       new MutationObserver(look).observe(document, { subtree: true, childList: true, attributes: true, characterData: true })
       setInterval(look, 20)`,
    )
    await page.driver.get(`${page.address}/project/low-water/sheet`)
    const seen = await page.until('it is whole', () =>
      page.driver.executeScript<{ told: string[]; early: boolean } | false>(
        'return window.seen?.isWhole === true && window.seen',
      ),
    )
    expect(seen.told[0]).toBe('Composing; null')
    const shares = seen.told.slice(1).map((words) => /^Composing (\d+) %; \1$/.exec(words)?.[1])
    expect(shares.length).toBeGreaterThan(0)
    expect(shares.map(Number)).toEqual(shares.map(Number).sort((a, b) => a - b))
    expect(seen.early).toBe(true)
    await page.until(
      'nothing more is told',
      async () => (await page.driver.findElements({ css: '.composing' })).length === 0,
    )
  })
})

describe('two versions in two tabs', () => {
  it('tell each other in words', async () => {
    await open('sheet')
    await page.css('.card')
    await page.driver.executeAsyncScript(
      `const done = arguments[arguments.length - 1]
       // A later version opens its storage.
       const open = indexedDB.open('muted-relief', 99999)
       open.onsuccess = () => { open.result.close(); done() }
       open.onblocked = () => done()`,
    )
    const banner = await page.css('[data-testid=storage-banner]')
    expect(await banner.getText()).toMatch(/newer version of Muted Relief is open in another tab/)
  })
})
