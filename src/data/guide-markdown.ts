import { Marked, type Tokens } from 'marked'
import type { GuidePage } from './guide'

/** What an anchor is made of: as code hosts make them of a heading. */
export const anchorOf = (heading: string): string =>
  heading
    .toLowerCase()
    .replace(/<[^>]*>|&[a-z]+;/g, '')
    .replace(/[^\p{L}\p{N} -]/gu, '')
    .trim()
    .replace(/ /g, '-')

const plain = (html: string): string =>
  html
    .replace(/<[^>]*>/g, ' ')
    .replace(
      /&(amp|lt|gt|quot|#39);/g,
      (_, name: string) => ({ amp: '&', lt: '<', gt: '>', quot: '"', '#39': "'" })[name] ?? ' ',
    )
    .replace(/\s+/g, ' ')
    .trim()

/** Where links of documents lead. */
export interface GuideLinks {
  /** Page and anchor of another document, by its path from the folder of documents; null where it is none of the guide's. */
  readonly page: (path: string, anchor: string) => string | null
  readonly picture: (path: string) => string
}

const joinedPath = (folder: string, to: string): string => new URL(to, `file:///${folder}`).pathname.slice(1)

/**
 * A document as a page of the guide.
 * @param path of it from the folder of documents. @param text in Markdown.
 */
export function guidePage(
  page: Pick<GuidePage, 'slug' | 'group'>,
  path: string,
  text: string,
  links: GuideLinks,
): GuidePage {
  const sections: GuidePage['sections'] = []
  let title = page.slug
  const marked = new Marked({ gfm: true })
  marked.use({
    renderer: {
      heading({ tokens, depth }: Tokens.Heading) {
        const inner = this.parser.parseInline(tokens)
        const anchor = anchorOf(inner)
        return `<h${depth} id="${page.slug}-${anchor}" tabindex="-1">${inner}</h${depth}>\n`
      },
      link({ href, tokens }: Tokens.Link) {
        const inner = this.parser.parseInline(tokens)
        if (/^[a-z]+:/.test(href)) return inner
        const [to, anchor = ''] = href.split('#')
        const target = to === '' ? `#${page.slug}/${anchor}` : links.page(joinedPath(path, to), anchor)
        return target === null ? inner : `<a href="${target}">${inner}</a>`
      },
      image({ href, text: alt }: Tokens.Image) {
        return `<img src="${links.picture(joinedPath(path, href))}" alt="${alt}" loading="lazy">`
      },
    },
  })
  const html = marked.parse(text, { async: false })
  // Its sections, each with the words beneath its heading.
  const pieces = html.split(/(?=<h[1-4] id=)/)
  for (const piece of pieces) {
    const head = /^<h([1-4]) id="([^"]*)"[^>]*>(.*?)<\/h\1>/s.exec(piece)
    if (!head) continue
    const name = plain(head[3])
    if (head[1] === '1') title = name
    const words = plain(piece.slice(head[0].length))
    sections.push({ anchor: head[2].slice(page.slug.length + 1), title: name, text: words })
  }
  return { ...page, title, html, sections }
}
