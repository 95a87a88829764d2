import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import type { BenchPage } from './bench-page'

/** A red cube on a green plate: small enough to render in seconds, with parts and materials to mask by. */
const BLOCK_OBJ = `mtllib block.mtl
v -2 0 2
v 2 0 2
v 2 0 -2
v -2 0 -2
v -0.5 0 0.5
v 0.5 0 0.5
v 0.5 0 -0.5
v -0.5 0 -0.5
v -0.5 1 0.5
v 0.5 1 0.5
v 0.5 1 -0.5
v -0.5 1 -0.5
o Plate
usemtl Green
f 1 2 3 4
o Block
usemtl Red
f 5 6 10 9
f 6 7 11 10
f 7 8 12 11
f 8 5 9 12
f 9 10 11 12
`
const BLOCK_MTL = 'newmtl Green\nKd 0 0.5 0\nnewmtl Red\nKd 0.6 0 0\n'

/** Gives the open project the block and its plate. */
export async function addBlock(
  page: BenchPage,
  file: (name: string, content: string) => string,
): Promise<void> {
  await (
    await page.css('[data-testid=model-input]')
  ).sendKeys([file('block.obj', BLOCK_OBJ), file('block.mtl', BLOCK_MTL)].join('\n'))
  await page.text('span', 'Plate')
}

/** A new project with the block in it, from the page of projects. */
export async function blockProject(
  page: BenchPage,
  file: (name: string, content: string) => string,
): Promise<void> {
  await page.driver.get(page.address)
  await page.click('[data-testid=new-project]')
  await addBlock(page, file)
}

/** Sets the size of the shot at work in pixels, and frames the models in it. */
export async function frameShot(page: BenchPage, width: number, height: number): Promise<void> {
  await page.click('.rail a[href$="/shot"]')
  await page.css('[data-testid=lock]')
  for (const [label, value] of [
    ['Width', width],
    ['Height', height],
  ] as const) {
    const field = await page.xpath(`//aside//div[label="${label}"]//input[@inputmode="decimal"]`)
    await field.click()
    await field.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), String(value), page.keys.ENTER)
  }
  await page.press('f')
}

/** Writes files of a test into a folder of its own. @returns the file's path. */
export function fileWriter(): (name: string, content: string | Uint8Array) => string {
  const folder = mkdtempSync(path.join(tmpdir(), 'relief-models-'))
  return (name, content) => {
    const full = path.join(folder, name)
    writeFileSync(full, content)
    return full
  }
}

/** The groups of a drawing file, as the browser's own parser reads them: kind, part, whether seen. */
export const svgGroups = (page: BenchPage, svg: string): Promise<string[]> =>
  page.driver.executeScript<string[]>(
    `const parsed = new DOMParser().parseFromString(arguments[0], 'image/svg+xml')
     if (parsed.querySelector('parsererror')) return ['not well-formed']
     return [...parsed.querySelectorAll('g')].map((g) => [g.dataset.kind, g.dataset.part, g.dataset.visible].join(' '))`,
    svg,
  )
