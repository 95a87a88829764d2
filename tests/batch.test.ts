import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { execFileSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import path from 'node:path'
import { strFromU8, unzipSync } from 'fflate'
import sharp from 'sharp'
import { batchManifestSchema } from '@/core/batch/batch-manifest'
import { readExr } from '@/core/formats/exr'
import { matteCoverage } from '@/core/formats/coverage-mattes'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'

/** Many files in one press: as a zip and into a folder, tried again, paused, by pointer and by keyboard; all passes as one file. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.text('*', 'Low Water')
  await page.go('/project/low-water/export')
  await page.css('[data-testid=open-batch]')
})
afterAll(async () => {
  await page?.close()
})

const ZIP = 'Low Water_batch.zip'
const told = async () => (await page.css('[data-testid=batch-told]')).getText()
const cells = () =>
  page.driver.executeScript<string[][]>(
    'return [...document.querySelectorAll("[data-testid=batch-rows] tr")].map(row => [...row.cells].map(cell => cell.textContent))',
  )
const named = async (pattern: string) => {
  const field = await page.css('[data-testid=batch-pattern]')
  await field.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), pattern)
}
/** Chooses what is called so, and nothing else. */
const only = (...names: string[]) =>
  page.driver.executeScript(
    `for (const box of document.querySelectorAll('.batch-what input')) {
       const own = box.parentElement.querySelector('span').textContent
       if (box.checked !== arguments[0].includes(own)) box.click()
     }`,
    names,
  )

describe('many files in one press', () => {
  it('show what they will be called, and what stands in the way, before anything is written', async () => {
    await page.click('[data-testid=open-batch]')
    await page.css('[role=dialog] [data-testid=batch-rows]')
    const all = await cells()
    expect(all.length).toBeGreaterThan(4)
    expect(all.every(([, , state]) => state === 'new')).toBe(true)
    await only('Sheet 1', 'Overpaint')
    await named('same')
    await page.until('both have one name', async () => {
      const states = (await cells()).map(([, , state]) => state)
      return states.length === 2 && states.every((state) => /another has the same name/.test(state))
    })
    await named('{colour}')
    await page.until('that word is refused', async () => /no word \{colour\}/.test(await told()))
    expect(await (await page.css('[data-testid=batch-start]')).isEnabled()).toBe(false)
    expect(await violations(page)).toEqual([])
  })
  it('leave as one zip, each as large as it was said', async () => {
    await page.choose('[data-testid=batch-purpose]', 'screen')
    const sheets = await page.driver.executeScript<string[]>(
      "return [...document.querySelectorAll('.batch-what ul:first-of-type label span:first-of-type')].map(own => own.textContent)",
    )
    await only(sheets[0], 'Clay')
    await named('{kind}/{name}_{width}')
    await (await page.css('input[aria-label="With a manifest"]')).sendKeys(page.keys.SPACE)
    const wanted = (await cells()).map(([file, size]) => ({ file, size }))
    expect(wanted).toHaveLength(2)
    rmSync(path.join(page.downloads, ZIP), { force: true })
    await page.click('[data-testid=batch-start]')
    await page.until('it is there', async () => /is with your downloads: 2 files/.test(await told()))
    const files = unzipSync(await page.download(ZIP))
    const manifest = batchManifestSchema.parse(JSON.parse(strFromU8(files['Low Water_files.json'])))
    expect(manifest.files.map(({ file, width, height }) => [file, `${width} × ${height}`])).toEqual(
      wanted.map(({ file, size }) => [file, size]),
    )
    delete files['Low Water_files.json']
    expect(Object.keys(files).sort()).toEqual(wanted.map(({ file }) => file).sort())
    for (const { file, size } of wanted) {
      const { width, height } = await sharp(Buffer.from(files[file])).metadata()
      expect(`${width} × ${height}`).toBe(size)
    }
  })
  it('go into a folder as a new version each time, by keyboard', async () => {
    await page.driver.executeScript('window.showDirectoryPicker = () => navigator.storage.getDirectory()')
    await (await page.text('button', 'Close')).sendKeys(page.keys.ENTER)
    await page.press('m')
    await (await page.text('button', 'Choose a folder')).sendKeys(page.keys.ENTER)
    await only('Clay')
    await named('out/{name}_{version}')
    await page.until('it is the first', async () => (await cells())[0][0] === 'out/Clay_v001.png')
    await (await page.css('[data-testid=batch-start]')).sendKeys(page.keys.ENTER)
    await page.until('it is written', async () => /1 file written/.test(await told()))
    await (await page.css('[data-testid=batch-start]')).sendKeys(page.keys.ENTER)
    await page.until(
      'the next press is the second',
      async () => (await cells())[0][0] === 'out/Clay_v002.png',
    )
    await page.until('it is written', async () => /1 file written/.test(await told()))
    const bytes = await page.driver.executeAsyncScript<number>(
      `const done = arguments[0]
       navigator.storage.getDirectory().then(async (root) => {
         const folder = await root.getDirectoryHandle('out')
         const file = await (await folder.getFileHandle('Clay_v001.png')).getFile()
         done(file.size)
       }).catch((error) => done(-1))`,
    )
    expect(bytes).toBeGreaterThan(10_000)
  })
  it('tell what failed beside it, and try it again', async () => {
    await page.driver.executeScript(
      `const own = FileSystemDirectoryHandle.prototype.getFileHandle
       window.calls = 0
       FileSystemDirectoryHandle.prototype.getFileHandle = function (name, options) {
         if (name.endsWith('_v003.png') && window.calls++ === 0) return Promise.reject(new Error('the disk is full'))
         return own.call(this, name, options)
       }`,
    )
    await page.click('[data-testid=batch-start]')
    await page.until('it is told', async () => (await cells())[0][2] === 'the disk is full')
    expect(await told()).toMatch(/1 file failed, 0 files made/)
    await page.click('[data-testid=batch-retry]')
    await page.until('it is written', async () => /1 file written/.test(await told()))
    await (await page.text('button', 'Close')).sendKeys(page.keys.ENTER)
  })
})

describe('a way of one’s own', () => {
  it('is kept under a name, taken again after another was, and forgotten, by keyboard', async () => {
    await page.press('m')
    await page.choose('[data-testid=batch-purpose]', 'print')
    await named('{name}_shop')
    await (await page.text('button', 'Keep this as your own')).sendKeys(page.keys.ENTER)
    await (await page.css('[data-testid=batch-own-name]')).sendKeys('Shop', page.keys.ENTER)
    await page.text('option', 'Shop')
    await page.choose('[data-testid=batch-purpose]', 'screen')
    const pattern = async () => (await page.css('[data-testid=batch-pattern]')).getAttribute('value')
    await page.until('another is taken', async () => (await pattern()) === '{project}_{name}')
    await page.choose('[data-testid=batch-purpose]', 'own Shop')
    await page.until('it is taken again', async () => (await pattern()) === '{name}_shop')
    await (await page.text('button', 'Forget Shop')).sendKeys(page.keys.ENTER)
    await page.until(
      'it is gone',
      async () => (await page.driver.findElements({ xpath: '//option[.="Shop"]' })).length === 0,
    )
  })
  it('tells what a form would cut, and what is rendered for its file', async () => {
    await only('Depth')
    await page.until('it is told', async () => /numbers would be cut/.test((await cells())[0][2]))
    expect(await (await page.css('[data-testid=batch-start]')).isEnabled()).toBe(false)
    await (await page.css('input[aria-label="Numbers as pictures too"]')).sendKeys(page.keys.SPACE)
    await page.until('it may go', async () => (await cells())[0][2] === 'new')
    // Half as large as it was rendered: it is rendered for it.
    await page.choose('[data-testid=batch-purpose]', 'data')
    await only('Depth')
    await (await page.text('button', '100 %')).sendKeys(page.keys.ENTER)
    await (await page.text('button', '25 %')).sendKeys(page.keys.ENTER)
    await named('{name}_{width}')
    page.forget(ZIP)
    await page.click('[data-testid=batch-start]')
    await page.until('it is there', async () => /is with your downloads: 1 file/.test(await told()))
    const [[name, bytes]] = Object.entries(unzipSync(await page.download(ZIP)))
    const { width, channels } = readExr(bytes, name)
    expect(name).toBe(`Depth_${width}.exr`)
    expect(width).toBe(300)
    expect(channels.find(({ name: own }) => own === 'Z')?.data.some((z) => z > 1)).toBe(true)
    await (await page.text('button', 'Close')).sendKeys(page.keys.ENTER)
  })
})

describe('all passes of a shot', () => {
  it('leave as a contact sheet, a page of PDF with their names', async () => {
    await page.click('[data-testid=export-contact]')
    const file = 'Low Water_Quay, three-quarter_contact.pdf'
    await page.until('it is written', async () =>
      /_contact\.pdf is with/.test(await (await page.css('[data-testid=export-told]')).getText()),
    )
    const pdf = path.join(page.downloads, file)
    await page.download(file)
    const text = execFileSync('pdftotext', ['-layout', pdf, '-'], { encoding: 'utf8' })
    for (const name of ['Low Water', 'Clay', 'Occlusion', 'Wireframe', 'Facing']) expect(text).toContain(name)
    const drawn = execFileSync('pdftoppm', ['-r', '40', '-png', '-singlefile', pdf])
    const { width, height } = await sharp(drawn).metadata()
    expect((width ?? 0) / (height ?? 1)).toBeCloseTo(297 / 210, 1)
    // Pictures, not an empty page.
    const { channels } = await sharp(drawn).stats()
    expect(channels[0].stdev).toBeGreaterThan(20)
  })
  it('leave as one EXR, with mattes of parts', async () => {
    await page.click('[data-testid=export-passes]')
    await page.until('it is written', async () =>
      /_passes\.exr is with your downloads/.test(
        await (await page.css('[data-testid=export-told]')).getText(),
      ),
    )
    const { channels, width } = readExr(
      await page.download('Low Water_Quay, three-quarter_passes.exr'),
      'passes',
    )
    expect(width).toBeGreaterThan(500)
    const layers = new Set(channels.map(({ name }) => name.split('.')[0]))
    expect([...layers]).toEqual(expect.arrayContaining(['Clay', 'Occlusion', 'MattePart00', 'R', 'A']))
    expect(matteCoverage(channels, 'MattePart', 'Roof').some((value) => value > 0.99)).toBe(true)
  })
})

describe('the scene', () => {
  it('leaves as GLB by the finder', async () => {
    await page.chord(page.keys.CONTROL, 'k')
    await (await page.css('[role=dialog] input')).sendKeys('Export the scene as GLB', page.keys.ENTER)
    const file = await page.download('Low Water.glb')
    expect(file.subarray(0, 4).toString('latin1')).toBe('glTF')
    const json = JSON.parse(file.subarray(20, 20 + file.readUInt32LE(12)).toString('utf8')) as {
      nodes: { name: string }[]
    }
    expect(json.nodes.map(({ name }) => name)).toEqual(expect.arrayContaining(['Roof', 'Cornice']))
  })
})
