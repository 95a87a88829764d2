import { hasContent, type Sheet, type SheetNode } from './sheet-schema'

/** What stands in type for words in braces: `{frame}` for one that is named `frame`. */
export type Words = Readonly<Record<string, string>>

const known = new WeakMap<SheetNode, { readonly text: string; readonly made: SheetNode }>()

/** A text with its words put in; those that nothing is known of stay. */
export const withWordsIn = (text: string, words: Words): string =>
  text.replace(/\{(\w+)\}/g, (whole, word: string) => (Object.hasOwn(words, word) ? words[word] : whole))

/** A sheet whose blocks of type say what words in braces stand for; blocks without any are the same objects, and so is the sheet. */
export function withWords<S extends Pick<Sheet, 'nodes'>>(sheet: S, words: Words): S {
  const changed: [string, SheetNode][] = []
  for (const [id, node] of Object.entries(sheet.nodes)) {
    if (!hasContent(node, 'type') || !node.content.text.includes('{')) continue
    const text = withWordsIn(node.content.text, words)
    if (text === node.content.text) continue
    const held = known.get(node)
    const made = held?.text === text ? held.made : { ...node, content: { ...node.content, text } }
    known.set(node, { text, made })
    changed.push([id, made])
  }
  return changed.length === 0
    ? sheet
    : { ...sheet, nodes: { ...sheet.nodes, ...Object.fromEntries(changed) } }
}
