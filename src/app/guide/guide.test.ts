import { existsSync, readFileSync } from 'node:fs'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { EFFECTS } from '@/core/effects/registry'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { guideSchema } from '@/data/guide'
import { PURPOSES } from '@/data/purposes'
import { guidePageAt } from '@/ui/guide/guide-dialog'
import { STEPS } from '@/ui/steps'
import { documentsFolder, guidePictures, readGuide } from './pages'

const guide = readGuide()
const pages = new Map(guide.pages.map((page) => [page.slug, page]))
const titles = (slug: string) => pages.get(slug)?.sections.map(({ title }) => title) ?? []

describe('the guide', () => {
  it('is what a page can read, each page with a name of its own', () => {
    expect(guideSchema.parse(guide)).toEqual(guide)
    expect(pages.size).toBe(guide.pages.length)
    for (const { sections, html } of guide.pages) {
      expect(sections.length).toBeGreaterThan(0)
      expect(sections.map(({ text }) => text).join('').length).toBeGreaterThan(150)
      // Two headings of one page are never reached by the same name.
      const ids = [...html.matchAll(/ id="([^"]+)"/g)].map(([, id]) => id)
      expect(new Set(ids).size).toBe(ids.length)
    }
  })
  it('leads nowhere that is not there', () => {
    for (const { slug, html } of guide.pages)
      for (const [, to] of html.matchAll(/href="#([^"]*)"/g)) {
        const [page, anchor] = to.split('/')
        expect([slug, to, pages.has(page)]).toEqual([slug, to, true])
        if (anchor)
          expect([slug, to, pages.get(page)?.html.includes(`id="${page}-${anchor}"`)]).toEqual([
            slug,
            to,
            true,
          ])
      }
    for (const { html } of guide.pages)
      for (const [, file] of html.matchAll(/src="(\/recipes\/[^"]*)"/g))
        expect([file, existsSync(path.resolve('public', `.${file}`))]).toEqual([file, true])
    const pictures = guidePictures(guide)
    expect(pictures.length).toBeGreaterThan(50)
    for (const file of pictures)
      expect([file, existsSync(path.join(documentsFolder(), file))]).toEqual([file, true])
  })
  it('holds no address of another place, and no script', () => {
    for (const { html } of guide.pages)
      expect(html).not.toMatch(/<script|href="(?!#)|src="(?!\/guide\/pictures\/|\/recipes\/)/)
  })
  it('lists the licence of every package and font that is shipped', () => {
    const told = pages.get('made-of')?.html ?? ''
    const { dependencies, devDependencies } = JSON.parse(readFileSync('package.json', 'utf8')) as Record<
      'dependencies' | 'devDependencies',
      Record<string, string>
    >
    const fonts = Object.keys(devDependencies).filter((name) => name.startsWith('@fontsource'))
    for (const name of [...Object.keys(dependencies), ...fonts])
      expect(told).toMatch(
        new RegExp(
          `<td>${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}</td>\\s*<td>[^<]+</td>\\s*<td>[^<]+</td>`,
        ),
      )
    expect(told).not.toMatch(/as it says/)
    expect(told).not.toMatch(/<td>vitest<\/td>/)
  })
  it('has a page for every step and purpose, and tells of every pass and effect', () => {
    for (const step of STEPS) expect(pages.has(guidePageAt(`/project/x/${step}`))).toBe(true)
    expect(pages.has(guidePageAt('/'))).toBe(true)
    for (const purpose of PURPOSES) expect(pages.has(purpose.guide)).toBe(true)
    for (const kind of PASS_KINDS) expect(titles('passes')).toContain(passKind(kind).label)
    const effects =
      pages
        .get('effects')
        ?.sections.map(({ title, text }) => `${title} ${text}`)
        .join(' ') ?? ''
    for (const { label } of EFFECTS) expect(effects).toContain(label)
  })
})
