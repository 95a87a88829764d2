import { PDFHexString, PDFNumber, type PDFDocument, type PDFObject, type PDFRef } from 'pdf-lib'
import { subsetFont } from '../type/subset-font'
import type { Font } from '../type/shaper'

/** Who numbers the glyphs: with identity encoding any registry may stand here (ISO 32000-1, section 9.7.5.2, table 118). */
const REGISTRY = 'MutedRelief'

/**
 * A font of a PDF: the glyphs that are used, under the numbers they have in the font (ISO 32000-1, section 9.7: a Type 0 font with
 * identity encoding), and what text each stands for, so that words can be found and copied.
 */
export class PdfFont {
  /** Text of each glyph that is used. */
  private readonly texts = new Map<number, string>()
  readonly ref: PDFRef

  constructor(
    private readonly pdf: PDFDocument,
    private readonly font: Font,
    private readonly number: number,
  ) {
    this.ref = pdf.context.nextRef()
  }

  /** A glyph as it stands in a string of the page. @param text what it stands for; empty where another glyph stands for it. */
  use(glyph: number, text: string): string {
    if (!this.texts.get(glyph)) this.texts.set(glyph, text)
    return hex4(glyph)
  }

  /** Writes the font; nothing may be used after that. */
  write(): void {
    const { pdf, font } = this
    const { context } = pdf
    const glyphs = [...this.texts.keys()].sort((a, b) => a - b)
    const bytes = subsetFont(font.file.bytes, glyphs, font.axes)
    const isCff = String.fromCharCode(...bytes.subarray(0, 4)) === 'OTTO'
    // Six letters tell a subset (section 9.6.4).
    const tag = [...String(this.number).padStart(6, '0')]
      .map((d) => String.fromCharCode(65 + Number(d)))
      .join('')
    const name = `${tag}+${(font.file.nameOf(6) || 'Font').replace(/[^A-Za-z0-9-]/g, '')}`
    const file = context.register(
      context.flateStream(bytes, isCff ? { Subtype: 'OpenType' } : { Length1: bytes.length }),
    )
    const em = (value: number) => Math.round(value * 1000)
    const { ascender, descender, capHeight } = font.metrics
    const descriptor = context.register(
      context.obj({
        Type: 'FontDescriptor',
        FontName: name,
        Flags: 4,
        FontBBox: [-1000, em(descender) - 200, 3000, em(ascender) + 400],
        ItalicAngle: 0,
        Ascent: em(ascender),
        Descent: em(descender),
        CapHeight: em(capHeight),
        StemV: 80,
        [isCff ? 'FontFile3' : 'FontFile2']: file,
      }),
    )
    const widths: PDFObject[] = glyphs.flatMap((glyph) => [
      PDFNumber.of(glyph),
      context.obj([em(font.advanceOf(glyph))]),
    ])
    const descendant = context.register(
      context.obj({
        Type: 'Font',
        Subtype: isCff ? 'CIDFontType0' : 'CIDFontType2',
        BaseFont: name,
        CIDSystemInfo: {
          Registry: PDFHexString.fromText(REGISTRY),
          Ordering: PDFHexString.fromText('Identity'),
          Supplement: 0,
        },
        FontDescriptor: descriptor,
        W: widths,
        ...(!isCff && { CIDToGIDMap: 'Identity' }),
      }),
    )
    context.assign(
      this.ref,
      context.obj({
        Type: 'Font',
        Subtype: 'Type0',
        BaseFont: name,
        Encoding: 'Identity-H',
        DescendantFonts: [descendant],
        ToUnicode: context.register(context.flateStream(toUnicode(this.texts))),
      }),
    )
  }
}

const hex4 = (value: number): string => value.toString(16).padStart(4, '0').toUpperCase()

/** What text glyphs stand for (section 9.10.3), a hundred of them at a time as readers ask for. */
function toUnicode(texts: ReadonlyMap<number, string>): string {
  const known = [...texts].filter(([, text]) => text !== '')
  const blocks: string[] = []
  for (let i = 0; i < known.length; i += 100) {
    const own = known.slice(i, i + 100)
    const lines = own.map(([glyph, text]) => {
      const units = Array.from({ length: text.length }, (_, k) => hex4(text.charCodeAt(k))).join('')
      return `<${hex4(glyph)}> <${units}>`
    })
    blocks.push(`${own.length} beginbfchar\n${lines.join('\n')}\nendbfchar`)
  }
  return `/CIDInit /ProcSet findresource begin
12 dict begin
begincmap
/CIDSystemInfo << /Registry (Own) /Ordering (UCS) /Supplement 0 >> def
/CMapName /Own-Identity-UCS def
/CMapType 2 def
1 begincodespacerange
<0000> <FFFF>
endcodespacerange
${blocks.join('\n')}
endcmap
CMapName currentdict /CMap defineresource pop
end
end`
}
