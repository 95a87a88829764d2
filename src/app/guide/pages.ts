import { existsSync, readFileSync } from 'node:fs'
import path from 'node:path'
import { z } from 'zod'
import type { Guide, GuidePage } from '@/data/guide'
import { anchorOf, guidePage, type GuideLinks } from '@/data/guide-markdown'

/** What the guide within the application holds, in its order: documents of the project, each a page. */
const DOCUMENTS: readonly (readonly [group: string, ...files: string[]])[] = [
  [
    'What it is for',
    'purposes/illustration.md',
    'purposes/overpaint.md',
    'purposes/poster.md',
    'purposes/turntable.md',
    'purposes/parts.md',
    'purposes/mesh.md',
  ],
  ['Step by step', 'USER-GUIDE.md'],
  ['Everything there is', 'PASSES.md', 'LINES.md', 'EFFECTS.md', 'PAINT.md'],
  [
    'Handing over',
    'hand-over/screen.md',
    'hand-over/print.md',
    'hand-over/reel.md',
    'hand-over/game.md',
    'hand-over/lines.md',
    'hand-over/data.md',
    'hand-over/last-change.md',
    'FARM.md',
  ],
  ['At hand', 'WHEN.md', 'GLOSSARY.md', 'SCREEN-READER.md'],
]

/** The folder of documents of this installation. */
export const documentsFolder = (): string => path.join(/* turbopackIgnore: true */ process.cwd(), 'docs')

const slugOf = (file: string): string => file.replace(/\.md$/, '').replace(/\W+/g, '-').toLowerCase()

/** A document of many steps is a page for each of them. */
const SPLIT = 'USER-GUIDE.md'

/** The whole guide, read from the documents. */
export function readGuide(folder = documentsFolder()): Guide {
  const read = (file: string) => readFileSync(path.join(/* turbopackIgnore: true */ folder, file), 'utf8')
  const known = new Map(
    DOCUMENTS.flatMap(([, ...files]) => files.map((file) => [file, slugOf(file)] as const)),
  )
  const steps = read(SPLIT)
    .split(/^(?=## )/m)
    .slice(1)
    .map((text) => ({ text, anchor: anchorOf(/^## (.*)$/m.exec(text)?.[1] ?? '') }))
  const stepOf = (anchor: string) =>
    steps.find(
      (step) =>
        step.anchor === anchor ||
        step.text
          .split('\n')
          .some((line) => /^#/.test(line) && anchorOf(line.replace(/^#+ /, '')) === anchor),
    ) ?? steps[0]
  const links: GuideLinks = {
    page: (file, anchor) => {
      if (file === SPLIT) return `#guide-${stepOf(anchor).anchor}/${anchor}`
      const slug = known.get(file)
      return slug === undefined ? null : `#${slug}/${anchor}`
    },
    // What is public has its address already.
    picture: (file) =>
      `${file.startsWith('public/') ? '' : '/guide/pictures/'}${file
        .split('/')
        .map(encodeURIComponent)
        .join('/')
        .replace(/^public\//, '/')}`,
  }
  const pages: GuidePage[] = DOCUMENTS.flatMap(([group, ...files]) =>
    files.flatMap((file) =>
      file === SPLIT
        ? steps.map(({ text, anchor }) =>
            // What is a chapter there is a page here.
            guidePage({ slug: `guide-${anchor}`, group }, file, text.replace(/^#(?=#)/gm, ''), links),
          )
        : [guidePage({ slug: slugOf(file), group }, file, read(file), links)],
    ),
  )
  return { pages: [...pages, madeOf(path.dirname(folder))] }
}

const lockSchema = z.object({
  version: z.string(),
  packages: z.record(
    z.string(),
    z.object({ version: z.string().optional(), license: z.string().optional(), dev: z.boolean().optional() }),
  ),
})

/** Every package that is shipped, every font and the demo's data, with their licences. @param root of the project. */
function madeOf(root: string): GuidePage {
  const { version, packages } = lockSchema.parse(
    JSON.parse(readFileSync(path.join(/* turbopackIgnore: true */ root, 'package-lock.json'), 'utf8')),
  )
  const all = Object.entries(packages).flatMap(
    ([place, { version: own = '', license = 'as it says', dev }]) => {
      const name = place.split('node_modules/').at(-1) ?? ''
      // Those for other systems are not there.
      return name === '' || !existsSync(path.join(/* turbopackIgnore: true */ root, place))
        ? []
        : [{ name, own, license, isShipped: dev !== true }]
    },
  )
  const isFont = ({ name }: { readonly name: string }) => name.startsWith('@fontsource')
  const table = (list: typeof all) =>
    ['| name | version | licence |', '| --- | --- | --- |']
      .concat([...new Set(list.map(({ name, own, license }) => `| ${name} | ${own} | ${license} |`))].sort())
      .join('\n')
  const text = `# What it is made of

Muted Relief ${version}. Its own sources are under the MIT licence.

## Demo data

Low Water, The Brass Gauge and all models, pictures and words of Pell Harbour are invented. Scripts in the sources make them; they are under the MIT licence.

## Fonts

They are shipped with the application; each may be used in pictures, printed and embedded.

${table(all.filter(isFont))}

## Packages

${table(all.filter((own) => own.isShipped && !isFont(own)))}
`
  const none: GuideLinks = { page: () => null, picture: (file) => file }
  return guidePage({ slug: 'made-of', group: 'At hand' }, 'made-of.md', text, none)
}

/** Pictures that pages show, by their paths from the folder of documents. */
export const guidePictures = (guide: Guide): string[] => [
  ...new Set(
    guide.pages.flatMap(({ html }) =>
      [...html.matchAll(/src="\/guide\/pictures\/([^"]+)"/g)].map(([, file]) => decodeURIComponent(file)),
    ),
  ),
]
