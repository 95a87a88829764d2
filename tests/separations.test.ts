import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { rmSync } from 'node:fs'
import path from 'node:path'
import { unzipSync } from 'fflate'
import sharp from 'sharp'
import { separationManifestSchema } from '@/core/separate/separation-manifest'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

/** Parts of the demo as pictures of their own: as files and as layers, by pointer and by keyboard. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.text('*', 'Low Water')
  await page.go(`/project/${ID}/export`)
  await page.css('[data-testid=separate-zip]')
})
afterAll(async () => {
  await page?.close()
})

const ID = 'low-water'
const ZIP = 'Low Water_Quay, three-quarter_parts.zip'
const words = async (selector: string) => (await page.css(selector)).getText()
const told = () => words('[data-testid=export-told]')
const named = async (pattern: string) => {
  const field = await page.css('[data-testid=separate-pattern]')
  await field.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), pattern)
}
const group = async (called = 'Parts apart') => {
  await page.saved()
  const { sheets } = await storedProject(page, ID)
  const { nodes, roots } =
    sheets.find((sheet) => Object.values(sheet.nodes).some(({ name }) => name === called)) ?? sheets[0]
  const front = nodes[roots.at(-1) ?? '']
  return front.content.kind === 'group' && front.name === called
    ? front.content.children.map((child) => nodes[child])
    : null
}

describe('separations', () => {
  it('says how many pictures there will be, and which', async () => {
    expect(await words('[data-testid=separate-count]')).toMatch(/^\d\d pictures: /)
    await named('gull wings, roof*')
    await page.until('four are told', async () =>
      /^4 pictures: Roof, Roof seams, Roof ridges …$/.test(await words('[data-testid=separate-count]')),
    )
    await named('mast')
    await page.until('none is called so', async () =>
      /No part is called so/.test(await words('[data-testid=separate-count]')),
    )
    expect(await (await page.css('[data-testid=separate-zip]')).isEnabled()).toBe(false)
    expect(await violations(page)).toEqual([])
  })
  it('leave as a zip with a manifest, read by another reader', async () => {
    await named('roof*, cornice')
    await page.choose('[data-testid=separate-quality]', 'draft')
    rmSync(path.join(page.downloads, ZIP), { force: true })
    await page.click('[data-testid=separate-zip]')
    await page.until('it is written', async () => /is with your downloads/.test(await told()))
    expect(await told()).toMatch(/Put together they are 0\.\d\d of 255 from the whole/)
    const files = unzipSync(await page.download(ZIP))
    const manifest = separationManifestSchema.parse(
      JSON.parse(new TextDecoder().decode(files['manifest.json'])),
    )
    expect(manifest.sets.map(({ name }) => name).sort()).toEqual([
      'Cornice',
      'Roof',
      'Roof ridges',
      'Roof seams',
    ])
    expect(manifest.difference).toBeLessThan(1 / 255)
    expect(Object.keys(files)).toHaveLength(9)
    for (const { file, shadow, width, height, x, y } of manifest.sets) {
      const { info, data } = await sharp(Buffer.from(files[file])).raw().toBuffer({ resolveWithObject: true })
      expect([info.width, info.height, info.channels]).toEqual([width, height, 4])
      expect(x + width).toBeLessThanOrEqual(manifest.size.width)
      expect(y + height).toBeLessThanOrEqual(manifest.size.height)
      expect(Math.max(...data.filter((_, i) => i % 4 === 3))).toBe(255)
      expect(Object.keys(files)).toContain(shadow)
    }
  })
  it('hang in the sheet as a group in their order, one step of undo', async () => {
    await named('roof*')
    await page.click('[data-testid=separate-sheet]')
    await page.until('they hang there', async () => /Parts apart hangs/.test(await told()))
    const layers = await group()
    expect(layers?.map(({ name }) => name.replace(/, shadow$/, '')).sort()).toEqual(
      ['Roof', 'Roof', 'Roof ridges', 'Roof ridges', 'Roof seams', 'Roof seams'].sort(),
    )
    // A shadow lies right beneath what throws it, hidden.
    layers?.forEach(({ name, visible }, i) => {
      expect(visible).toBe(!name.endsWith(', shadow'))
      if (name.endsWith(', shadow')) expect(`${layers[i + 1].name}, shadow`).toBe(name)
    })
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('all are gone', async () => (await group()) === null)
  })
  it('takes the ground apart into five layers, one step of undo', async () => {
    await page.click('[data-testid=separate-backdrop]')
    await page.until('it hangs there', async () => /Backdrop apart hangs/.test(await told()))
    expect(await told()).toMatch(/it is 0\.\d\d of 255 from the whole/)
    const layers = await group('Backdrop apart')
    expect(layers?.map(({ name, mode }) => `${name}, ${mode}`)).toEqual([
      'Ground, bare, normal',
      'Shadow on it, multiply',
      'Occlusion on it, multiply',
      'Mirrored in it, plus-lighter',
      'What stands there, normal',
    ])
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('all are gone', async () => (await group('Backdrop apart')) === null)
  })
  it('are begun and cancelled by keyboard, and leave nothing', async () => {
    await named('')
    await page.chord(page.keys.CONTROL, 'k')
    await (await page.css('[role=dialog] input')).sendKeys('Separate the parts into layers', page.keys.ENTER)
    const cancel = await page.text('button', 'Cancel')
    await cancel.sendKeys(page.keys.ENTER)
    await page.until('that is said', async () => /cancelled\. Nothing was written/.test(await told()))
    expect(await group()).toBeNull()
  })
})
