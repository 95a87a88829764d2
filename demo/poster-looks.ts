import { mkdir, readFile } from 'node:fs/promises'
import path from 'node:path'
import { mockupsOf, pagesOf } from '@/data/poster-series'
import { pageOf, toPx } from '@/data/page-size'
import type { Project } from '@/data/project-schema'

/** The longer side of a look, in pixels. */
const SIDE = 480

/**
 * Writes how the first page and the mock-ups of each poster of the demo look, as the application keeps it.
 * @param relief the headless command.
 */
export async function posterLooks(
  folder: string,
  relief: (argv: readonly string[]) => Promise<number>,
): Promise<void> {
  const file = path.join(folder, 'low-water', 'project.json')
  const project = JSON.parse(await readFile(file, 'utf8')) as Project
  const looks = path.join(folder, 'low-water', 'looks')
  await mkdir(looks, { recursive: true })
  for (const { id, name } of project.posters) {
    const [page] = pagesOf(project, id)
    for (const sheet of [page, ...mockupsOf(project, id)]) {
      const bleed = sheet.page ? 2 * toPx(pageOf(sheet).bleedMm, pageOf(sheet)) : 0
      const by = SIDE / Math.max(sheet.width, sheet.height)
      const size = [sheet.width, sheet.height].map((side) => Math.round((side - bleed) * by))
      const out = path.join(looks, `${encodeURIComponent(sheet.id)}.png`)
      const code = await relief([
        'compose',
        path.join(folder, 'low-water.zip'),
        '--poster',
        `${name}/${sheet.name}`,
        '--size',
        size.join('x'),
        '--out',
        out,
        '--overwrite',
      ])
      if (code !== 0) throw new Error(`there is no picture of ${name}, ${sheet.name}`)
    }
  }
}
