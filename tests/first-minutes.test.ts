import { writeFileSync } from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'
import { openId, storedProject } from './stored-project'

/** The first ten minutes: what one came to do, hints, the guide; and a first picture by what is spoken, see docs/SCREEN-READER.md. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.text('*', 'The Brass Gauge')
})
afterAll(async () => {
  await page?.close()
})

const address = async () => new URL(await page.driver.getCurrentUrl()).pathname
const start = async () => {
  await page.go('/')
  await page.css('[data-testid=demo-illustration]')
}
const has = async (selector: string) => (await page.driver.findElements({ css: selector })).length > 0
/** Roles and names as assistive technology is given them. */
const spoken = async (selector: string): Promise<string[]> => {
  const found = await page.driver.findElements({ css: selector })
  return Promise.all(
    found.map(
      async (own) =>
        `${await own.getAriaRole()}: ${(await own.getAccessibleName()).replace(/\s+/g, ' ').replace(/ ,/g, ',')}`,
    ),
  )
}

describe('the start page', () => {
  it('opens the demo where it shows what one came for', async () => {
    for (const [purpose, at] of [
      ['poster', '/project/low-water/poster'],
      ['turntable', '/project/brass-gauge/turntable'],
      ['parts', '/project/low-water/export'],
    ]) {
      await start()
      await page.click(`[data-testid=demo-${purpose}]`)
      await page.until(`${purpose} is shown`, async () => (await address()) === at)
    }
  })
  it('begins a project for it with one’s own model', async () => {
    await start()
    const model = path.join(page.downloads, 'plinth.obj')
    writeFileSync(model, 'o Plinth\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n')
    // The press opens the system's own window for files; what it gives is given here.
    await page.driver.executeScript('HTMLInputElement.prototype.click = function () {}')
    await (await page.css('button[aria-label="A mesh presentation, with your model"]')).click()
    await (await page.driver.findElement({ css: '[data-testid=purpose-input]' })).sendKeys(model)
    await page.until('it is in its models', async () => /\/models$/.test(await address()))
    await page.text('*', 'Plinth')
    await page.saved()
    const { passes } = await storedProject(page, await openId(page))
    expect(passes.map(({ kind }) => kind)).toEqual(['clay', 'wireframe', 'lit', 'flat', 'id', 'occlusion'])
    // Who has work of one's own finds it first.
    await start()
    const heads = await page.driver.executeScript<string[]>(
      "return [...document.querySelectorAll('h2')].map((h) => h.textContent)",
    )
    expect(heads.indexOf('Projects')).toBeLessThan(heads.indexOf('What will it be?'))
    expect(await violations(page)).toEqual([])
  })
})

describe('the demo that was deleted', () => {
  it('is brought back where it is asked for, and is not there twice', async () => {
    await start()
    const rows = async () => (await page.driver.findElements({ css: '.project-card' })).length
    const count = await rows()
    await (await page.xpath('//li[.//a[text()="Low Water"]]//button[text()="Delete"]')).click()
    await page.until('it is gone', async () => (await rows()) === count - 1)
    await page.click('[data-testid=demo-illustration]')
    await page.css('.card')
    await start()
    await page.until('all are there', async () => (await rows()) === count)
  })
})

describe('how the demo was made', () => {
  const told = async () => (await page.css('.making-words')).getText()
  const peeled = async () => (await page.css('.peel-handle')).getAttribute('aria-valuetext')
  it('is gone through from the back, layer by layer, with what was noted of each', async () => {
    await start()
    await page.click('[data-testid=making-low-water]')
    await page.until('the first layer is told of', async () => /^Evening sky[^]*the hour/.test(await told()))
    expect(await peeled()).toBe('15 of 16 lifted')
    expect(await violations(page)).toEqual([])
    await page.click('[data-testid=making-next]')
    await page.until('the next is told of', async () => (await told()).startsWith('Clay'))
    // By keyboard: on, back, and a note of one's own, which is there at once and undone like anything else.
    await page.press(page.keys.PAGE_DOWN)
    await page.until('the third is told of', async () => /^Flat colour Multiply, 88/.test(await told()))
    await page.press(page.keys.PAGE_UP)
    await page.until('the second is told of', async () => (await told()).startsWith('Clay'))
    const note = await page.css('#layer-note')
    await note.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), 'Clay first, always.')
    await page.until('the note is read', async () => /Clay first, always\.$/.test(await told()))
    await page.saved()
    await page.driver.navigate().refresh()
    await page.css('.card')
    await page.chord(page.keys.SHIFT, 'n')
    await page.press(page.keys.PAGE_DOWN)
    await page.until('it was kept', async () => /Clay first, always\.$/.test(await told()))
    await page.press(page.keys.ESCAPE)
    await page.until('all is back', async () => !(await has('[data-testid=making]')))
    expect(await peeled()).toBe('0 of 16 lifted')
  })
  it('does not go on in another project', async () => {
    await page.chord(page.keys.SHIFT, 'n')
    await page.css('[data-testid=making]')
    await page.driver.findElement({ css: '.wordmark' }).click()
    await page.css('[data-testid=demo-illustration]')
    await page.click('[data-testid=demo-illustration]')
    await page.css('.card')
    expect(await has('[data-testid=making]')).toBe(false)
  })
})

describe('hints of a first visit', () => {
  it('stand until they are put away, and come again when they are asked for', async () => {
    await page.go('/project/low-water/shot')
    await page.css('[data-testid=open-guide]')
    expect(await has('.step-hint')).toBe(false)
    await page.chord(page.keys.CONTROL, 'k')
    await (await page.css('[role=dialog] input')).sendKeys('first hints', page.keys.ENTER)
    await page.css('.step-hint')
    expect(await violations(page)).toEqual([])
    await (await page.css('[data-testid=hint-read]')).sendKeys(page.keys.ENTER)
    await page.until('it is put away', async () => !(await has('.step-hint')))
    await page.driver.navigate().refresh()
    await page.css('[data-testid=open-guide]')
    await page.go('/project/low-water/export')
    await page.css('.step-hint')
    await page.go('/project/low-water/shot')
    await page.css('[data-testid=open-guide]')
    expect(await has('.step-hint')).toBe(false)
  })
})

describe('a project with nothing in it', () => {
  it('leads on from every step, to what belongs there first', async () => {
    await page.go('/')
    await page.click('[data-testid=new-project]')
    await page.css('[data-testid=model-input]')
    const id = await openId(page)
    const found: string[] = []
    for (const step of ['shot', 'passes', 'sheet', 'poster', 'turntable', 'export']) {
      await page.go(`/project/${id}/${step}`)
      await page.until(`${step} leads on`, () =>
        page.driver.executeScript<boolean>(
          `return [...document.querySelectorAll('main a, aside a')]
             .filter((own) => own.checkVisibility())
             .some(({ pathname }) => pathname.startsWith(arguments[0]) && !pathname.endsWith(arguments[1]))`,
          `/project/${id}/`,
          step,
        ),
      )
      found.push(...(await violations(page)).map((text) => `${step}: ${text}`))
    }
    expect(found.join('\n')).toBe('')
    await (await page.text('a', 'Begin with a model')).click()
    await page.css('[data-testid=model-input]')
  })
})

describe('the guide', () => {
  const title = async () => (await page.css('.guide article')).getAttribute('aria-label')
  it('opens at the step by its key, is searched, and leads on', async () => {
    await page.go('/project/low-water/passes')
    await page.css('[data-testid=open-guide]')
    await page.press(page.keys.F1)
    await page.until('the step is told of', async () => (await title()) === '3 Passes')
    expect(await violations(page)).toEqual([])
    const search = await page.css('[data-testid=guide-search]')
    await search.sendKeys('halftone')
    await page.until('places are found', async () =>
      /places/.test(await (await page.css('.guide nav')).getText()),
    )
    await search.sendKeys(page.keys.ENTER)
    await page.until('it is there', async () => (await title()) === 'The effects')
    // A word that is nowhere.
    await search.sendKeys('qwertzuiop')
    await page.text('*', 'Nothing in the guide speaks of that.')
    await search.sendKeys(page.keys.ESCAPE)
    await page.press(page.keys.ESCAPE)
    await page.until('it is closed', async () => !(await has('.guide')))
  })
  it('stands at an address of its own, in both themes', async () => {
    await page.driver.get(`${page.address}/guide#when`)
    await page.until('that page is shown', async () => (await title()) === 'What to do when …')
    expect(await violations(page)).toEqual([])
    await (await page.text('button', 'Words')).click()
    await page.until('the address follows', async () =>
      (await page.driver.getCurrentUrl()).endsWith('#glossary'),
    )
    const pictures = await page.driver.executeAsyncScript<number>(
      `const done = arguments[arguments.length - 1]
       fetch('/guide/content').then((r) => r.json()).then(async ({ pages }) => {
         const all = [...new Set(pages.flatMap(({ html }) => [...html.matchAll(/src="([^"]+)"/g)].map((m) => m[1])))]
         const replies = await Promise.all(all.map((file) => fetch(file)))
         done(replies.filter((r) => !r.ok || !/^image/.test(r.headers.get('content-type'))).length)
       })`,
    )
    expect(pictures).toBe(0)
  })
})

describe('a first picture by what is spoken', () => {
  it('has a name for each step of the walk', async () => {
    await start()
    expect(await spoken('h2')).toEqual(
      expect.arrayContaining([
        'heading: What will it be?',
        'heading: Projects',
        'heading: Begin with a recipe',
      ]),
    )
    expect(await spoken('[data-testid=demo-illustration]')).toEqual([
      'button: An illustration, with the demo',
    ])
    await (await page.css('[data-testid=demo-illustration]')).sendKeys(page.keys.ENTER)
    await page.until('the demo is open', async () => (await address()) === '/project/low-water/sheet')
    expect(await spoken('nav.rail')).toEqual(['navigation: Steps'])
    expect((await spoken('nav.rail a')).map((own) => own.replace(/\d /, ''))).toEqual(
      ['Models', 'Shot', 'Passes', 'Sheet', 'Poster', 'Turntable', 'Export'].map((name) => `link: ${name}`),
    )
    expect(await spoken('h1')).toEqual(['heading: Low Water, Sheet'])
    const [rack] = await spoken('.card-list')
    expect(rack).toBe('listbox: Layers, back to front')
    await page.css('.rack [role=option]')
    const cards = await spoken('.rack [role=option]')
    expect(cards.length).toBeGreaterThan(5)
    for (const card of cards) expect(card).toMatch(/^option: .+/)
    expect(cards.some((own) => /Clay.*Normal.*100/.test(own))).toBe(true)
    await page.chord(page.keys.CONTROL, '3')
    await page.until('passes are open', async () => (await address()).endsWith('/passes'))
    await page.css('.contact-cell')
    for (const cell of await spoken('.contact-cell')) expect(cell).toMatch(/^button: .+/)
    expect((await spoken('.contact-cell')).some((own) => /^button: Clay/.test(own))).toBe(true)
    // Nothing that takes the focus is without a name.
    const nameless = (await spoken('button, a[href], input:not([type=hidden]):not([hidden]), select')).filter(
      (own) => /: $/.test(own),
    )
    expect(nameless).toEqual([])
  })
})
