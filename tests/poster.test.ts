import { spawnSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { compress } from 'woff2-encoder'
import { shippedBytes } from '../src/core/testing/fonts'
import { alignments } from '../src/features/poster/snap-block'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

/** From a sheet to paper: pages in series, type edited where it stands, depth, files. */
let page: BenchPage

beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.css('.project-card')
  await page.go('/project/low-water/poster')
  await page.css('[data-testid=depth-peg], .part')
})
afterAll(async () => {
  await page?.close()
})

const stored = async () => {
  await page.saved()
  return storedProject(page, 'low-water')
}
const pageNamed = async (name: string) => {
  const { sheets } = await stored()
  const found = sheets.find((sheet) => sheet.page?.posterId === 'tide-fair' && sheet.name === name)
  if (!found) throw new Error(`no page ${name}`)
  return found
}
const typeIn = (sheet: Awaited<ReturnType<typeof pageNamed>>, id: string) => {
  const content = sheet.nodes[id]?.content
  if (content?.kind !== 'type') throw new Error(`${id} is no type`)
  return content
}
const choose = (name: string) =>
  page.until(`${name} is chosen`, async () => {
    for (const back of await page.driver.findElements({ css: '[data-testid=to-page]' })) await back.click()
    const rows = await page.driver.findElements({ css: '.page-list .row-name' })
    for (const row of rows)
      if ((await row.getText()) === name) {
        await row.click()
        return true
      }
    return false
  })
const format = (name: string) =>
  page.until(`format ${name}`, async () => {
    for (const tab of await page.driver.findElements({ css: '.series .format' }))
      if ((await tab.getText()) === name) {
        await tab.click()
        return true
      }
    return false
  })
/** The proof has rested: it is the same some time later. */
const settled = async (places: readonly (readonly [number, number])[]) => {
  let last = ''
  let since = Date.now()
  return page.until('the page rests', async () => {
    const now = JSON.stringify(await Promise.all(places.map(([x, y]) => page.pixel('Page', x, y))))
    if (now !== last || now.includes('[]')) {
      last = now
      since = Date.now()
    }
    return Date.now() - since > 2500 && (JSON.parse(now) as number[][])
  })
}
const distance = (a: readonly number[], b: readonly number[]) =>
  Math.hypot(...a.slice(0, 3).map((v, i) => v - b[i]))
const text = () => page.css('[data-testid=type-text]')

describe('a series', () => {
  it('shows its formats, and is not among the sheets', async () => {
    const tabs = await page.driver.findElements({ css: '.series .format:not(.mockup)' })
    expect(await Promise.all(tabs.map((tab) => tab.getText()))).toEqual(['A3', 'Square', 'Story', 'Banner'])
    await page.go('/project/low-water/sheet')
    await page.css('.card')
    expect(await page.bodyText()).toContain('Sheet 1')
    const { shots } = await stored()
    expect(shots[0].sheetId).toBe('sheet')
    await page.go('/project/low-water/poster')
    await page.css('.part')
  })
  it('says in all formats what is said in one, each at its own place', async () => {
    await choose('9 AUGUST')
    await page.click('[data-testid=edit-type]')
    await (await text()).sendKeys('10 AUGUST')
    await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
    const [a3, square] = [await pageNamed('A3'), await pageNamed('Square')]
    const id = 'tide-fair-date'
    expect([typeIn(a3, id).text, typeIn(square, id).text]).toEqual(['10 AUGUST', '10 AUGUST'])
    expect(typeIn(square, id).box).not.toEqual(typeIn(a3, id).box)
    await page.chord(page.keys.CONTROL, 'z')
    await page.until(
      'it is taken back',
      async () => typeIn(await pageNamed('Square'), id).text === '9 AUGUST',
    )
  })
  it('gets another format with everything on it, by keyboard, and loses it again', async () => {
    await page.driver.executeScript('arguments[0].focus()', await page.css('[data-testid=add-format]'))
    await page.driver.actions().sendKeys(page.keys.ENTER).perform()
    await page.css('[role=menu]')
    await page.driver.actions().sendKeys('A5').sendKeys(page.keys.ENTER).perform()
    await page.text('button', 'A5')
    const made = await pageNamed('A5')
    expect(made.page).toMatchObject({ widthMm: 148, heightMm: 210 })
    expect(Object.keys(made.nodes)).toEqual(Object.keys((await pageNamed('A3')).nodes))
    await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
    await page.click('[data-testid=remove-format]')
    await page.until('it is gone', async () => !(await stored()).sheets.some(({ name }) => name === 'A5'))
    await format('A3')
  })
})

describe('type on the page', () => {
  it('is begun by a key, typed, moved through by line, and undone', async () => {
    await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
    await page.press('t')
    const field = await text()
    const caretTop = () =>
      page.driver.executeScript<number>(
        'return Number(document.querySelector(".type-editor .caret")?.getAttribute("y1") ?? 0)',
      )
    await field.sendKeys('Open')
    await page.until('a caret stands', async () => (await caretTop()) > 0)
    const first = await caretTop()
    await field.sendKeys('\nlate')
    await page.until('the caret is in the second line', async () => (await caretTop()) > first + 50)
    await field.sendKeys(page.keys.ARROW_UP)
    await page.until('it went a line up', async () => Math.abs((await caretTop()) - first) < 1)
    await field.sendKeys(page.keys.HOME, 'Not ')
    await field.sendKeys(page.keys.ESCAPE)
    const { nodes } = await pageNamed('A3')
    const made = Object.values(nodes).find(
      ({ content }) => content.kind === 'type' && content.text === 'Not Open\nlate',
    )
    expect(made?.name).toBe('Not Open')
    await page.driver.actions().sendKeys(page.keys.DELETE).perform()
    await page.until('it is gone', async () => !(await pageNamed('A3')).nodes[made?.id ?? ''])
  })
  it('takes what an input method composes', async () => {
    await choose('PELL HARBOUR QUAY')
    await page.click('[data-testid=edit-type]')
    const field = await text()
    await field.sendKeys(page.keys.END)
    const driver = page.driver as unknown as {
      sendDevToolsCommand: (command: string, params: object) => Promise<void>
    }
    await field.sendKeys(' ')
    await driver.sendDevToolsCommand('Input.imeSetComposition', {
      text: 'ñ',
      selectionStart: 1,
      selectionEnd: 1,
    })
    await driver.sendDevToolsCommand('Input.insertText', { text: 'ñandú' })
    await page.until('it is there', async () =>
      typeIn(await pageNamed('A3'), 'tide-fair-place').text.endsWith(' ñandú'),
    )
    await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
    await page.chord(page.keys.CONTROL, 'z')
    await page.until(
      'it is taken back',
      async () => typeIn(await pageNamed('A3'), 'tide-fair-place').text === 'PELL HARBOUR QUAY',
    )
  })
  it('has its pairs set by hand', async () => {
    await choose('TIDE')
    const tile = await page.css('[aria-label="Distance of FA"]')
    await page.driver.executeScript('arguments[0].focus()', tile)
    await page.driver.actions().sendKeys(page.keys.ARROW_LEFT, page.keys.ARROW_LEFT).perform()
    await page.until('the pair is set', async () =>
      typeIn(await pageNamed('A3'), 'tide-fair-title').pairs.some(
        ({ pair, by }) => pair === 'FA' && by === -2,
      ),
    )
    await page.chord(page.keys.CONTROL, 'z')
  })
  it('is set in a font of one’s own, with what it says of its licence, and refuses what is none', async () => {
    await choose('9 AUGUST')
    const broken = path.join(page.downloads, 'broken.ttf')
    writeFileSync(broken, Buffer.alloc(4000, 5))
    await (await page.css('[data-testid=font-input]')).sendKeys(broken)
    await page.until('it is refused by name', async () => (await page.bodyText()).includes('broken.ttf'))
    // As it is folded for the web: the server unfolds it.
    const folded = path.join(page.downloads, 'monoton.woff2')
    writeFileSync(folded, await compress(shippedBytes('monoton-latin-400-normal.woff')))
    await (await page.css('[data-testid=font-input]')).sendKeys(folded)
    await page.until('it is brought', async () => (await stored()).fonts.length === 1)
    const { fonts } = await stored()
    expect(fonts[0]).toMatchObject({ name: 'Monoton', licence: expect.stringMatching(/\S/) })
    expect(typeIn(await pageNamed('A3'), 'tide-fair-date').fontId).toBe(fonts[0].id)
    await page.until(
      'it is shown',
      async () => (await (await page.css('[data-testid=family]')).getText()) === 'Monoton',
    )
    await page.chord(page.keys.CONTROL, 'z')
  })
})

describe('a title at a depth', () => {
  /** A place of the title that the kiosk covers. */
  const ROOF = [0.512, 0.373] as const
  const SKY = [0.2, 0.1] as const
  it('goes before and behind parts by keys, and back by undo', async () => {
    await page.go('/project/low-water/poster')
    await page.css('.part')
    await choose('TIDE')
    const [before] = await settled([ROOF, SKY])
    const peg = await page.css('[data-testid=depth-peg]')
    expect(await peg.getAttribute('aria-valuetext')).toBe('behind Piles, before Low water')
    await page.driver.executeScript('arguments[0].focus()', peg)
    await page.driver.actions().sendKeys(page.keys.END).perform()
    await page.until(
      'it stands in front',
      async () => (await (await page.css('[data-testid=stands]')).getText()) === 'before everything',
    )
    const [front, ink] = await settled([ROOF, SKY])
    expect(distance(front, ink)).toBeLessThan(90)
    expect(distance(front, before)).toBeGreaterThan(30)
    await page.chord(page.keys.CONTROL, 'z')
    const [again] = await settled([ROOF, SKY])
    expect(distance(again, before)).toBeLessThan(6)
  })
  it('is dragged along the rail', async () => {
    await choose('TIDE')
    const part = await page.css('.depth-rail .part:nth-of-type(3)')
    await page.driver
      .actions()
      .move({ origin: await page.css('[data-testid=depth-peg]') })
      .press()
      .move({ origin: part, duration: 300 })
      .release()
      .perform()
    await page.until(
      'it moved',
      async () => !(await (await page.css('[data-testid=stands]')).getText()).startsWith('behind Piles'),
    )
    await page.chord(page.keys.CONTROL, 'z')
  })
})

describe('a block', () => {
  it('is dragged on the page, says how far it lies from the edges, and comes to what it is near', async () => {
    await choose('9 AUGUST')
    const frame = await page.css('[data-testid=block-frame]')
    const { x, y, width, height } = await frame.getRect()
    const proof = await (await page.css('[data-testid=proof]')).getRect()
    const middle = proof.x + proof.width / 2
    const from = { x: Math.round(x + width / 2), y: Math.round(y + height / 2) }
    const hand = page.driver.actions()
    await hand
      .move(from)
      .press()
      .move({ x: Math.round(middle) + 30, y: from.y - 60, duration: 200 })
      .move({ x: Math.round(middle) + 3, y: from.y - 60, duration: 100 })
      .perform()
    expect((await page.driver.findElements({ css: '.distance' })).length).toBeGreaterThan(2)
    await page.driver.actions().release().perform()
    const { box } = typeIn(await pageNamed('A3'), 'tide-fair-date')
    const own = await pageNamed('A3')
    if (!own.page) throw new Error('no page')
    const lines = alignments(own.page, own, 'tide-fair-date').x
    const edges = [box[0], box[0] + box[2] / 2, box[0] + box[2]]
    const near = edges.map((edge) => Math.min(...lines.map((line) => Math.abs(line - edge))))
    expect(Math.min(...near)).toBeLessThan(1e-9)
    await page.chord(page.keys.CONTROL, 'z')
  })
  it('is moved by arrow keys, a millimetre at a time', async () => {
    await choose('9 AUGUST')
    const before = typeIn(await pageNamed('A3'), 'tide-fair-date').box
    await page.driver.executeScript('arguments[0].focus()', await page.css('[data-testid=block-frame]'))
    await page.driver.actions().sendKeys(page.keys.ARROW_LEFT).perform()
    await page.until(
      'it moved',
      async () => typeIn(await pageNamed('A3'), 'tide-fair-date').box[0] !== before[0],
    )
    const after = typeIn(await pageNamed('A3'), 'tide-fair-date').box
    expect((before[0] - after[0]) * 303).toBeCloseTo(1, 3)
    await page.chord(page.keys.CONTROL, 'z')
  })
})

describe('a sheet on its page', () => {
  it('shows at once what is changed in it', async () => {
    await page.go('/project/low-water/poster')
    await page.css('.part')
    const ROOF = [0.49, 0.44] as const
    const [before] = await settled([ROOF])
    await page.go('/project/low-water/sheet')
    await page.click('[data-testid="card-Clay"]')
    await page.click('[aria-label=Shown]')
    await page.saved()
    await page.go('/project/low-water/poster')
    await page.css('.part')
    const [after] = await settled([ROOF])
    expect(distance(before, after)).toBeGreaterThan(8)
    await page.chord(page.keys.CONTROL, 'z')
  })
})

describe('the margins of a page', () => {
  it('are seen, and not seen, by a press among what is told of the page', async () => {
    await format('Square')
    const press = async (words: string) => (await page.xpath(`//button[.="${words}"]`)).click()
    await press('Margins')
    await press('Hide margins')
    await page.xpath('//button[.="Margins"]')
  })
})

describe('a poster as a file', () => {
  it('leaves as a PDF whose words another reader finds, and as nothing when it is cancelled', async () => {
    await format('Square')
    await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
    await page.click('[data-testid=export-poster]')
    const pdf = await page.download('Tide Fair_Square.pdf')
    const file = path.join(page.downloads, 'Tide Fair_Square.pdf')
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
    const { stdout } = spawnSync('pdftotext', ['-raw', file, '-'], { encoding: 'utf8' })
    expect(stdout).toContain('TIDE')
    expect(stdout).toContain('PELL HARBOUR QUAY')
    expect((await page.css('[data-testid=poster-told]')).getText()).resolves.toMatch(/with your downloads/)
    page.forget('Tide Fair_Square.pdf')
    await page.click('[data-testid=export-poster]')
    await (await page.xpath('//button[normalize-space(.)="Cancel"]')).click()
    await page.until('it is told', async () =>
      (await (await page.css('[data-testid=poster-told]')).getText()).includes('Nothing was written'),
    )
  })
})

describe('a project without a poster', () => {
  it('says what belongs here, and begins one of its sheet', async () => {
    const { posters } = await stored()
    for (let left = posters.length; left > 0; left--) {
      await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
      if (left > 1) await (await page.xpath('//button[normalize-space(.)="Remove the poster"]')).click()
      else {
        const { sheets } = await stored()
        for (let own = sheets.filter((sheet) => sheet.page).length; own > 0; own--) {
          await page.click('[data-testid=remove-format]')
          await page.until(
            'it is gone',
            async () => (await stored()).sheets.filter((s) => s.page).length === own - 1,
          )
        }
      }
      await page.until('it is gone', async () => (await stored()).posters.length === left - 1)
      await page.go('/project/low-water/poster')
      if (left > 1) await page.css('.part')
    }
    await page.click('[data-testid=begin-poster]')
    await page.css('[data-testid=add-format]')
    await page.until('a poster of the sheet', async () => {
      const { posters: made, sheets } = await stored()
      const own = sheets.find((sheet) => sheet.page)
      return (
        made.length === 1 && Object.values(own?.nodes ?? {}).some(({ content }) => content.kind === 'sheet')
      )
    })
  })
})
