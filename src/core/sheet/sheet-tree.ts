import { InvalidValueError } from '../errors'
import { hasContent, type Sheet, type SheetNode } from './sheet-schema'

/**
 * The tree of a sheet's layers. What changes it changes a draft in place; what lies in a group goes where the group goes. A
 * place is a group's id, or null for the sheet itself, and a position counted from the back.
 */
type Tree = Pick<Sheet, 'roots' | 'nodes'>
export interface TreePlace {
  readonly parent: string | null
  readonly index: number
}

/** Ids of what lies directly in a group or, for null, on the sheet; back first. The list itself: a draft may change it. */
export function childrenOf(sheet: Tree, parent: string | null): string[] {
  if (parent === null) return sheet.roots
  const node = sheet.nodes[parent]
  if (!node || !hasContent(node, 'group')) throw new InvalidValueError(`layer ${parent}`, 'must be a group')
  return node.content.children
}

/** Where a layer lies; null for one that is not there. */
export function placeOf(sheet: Tree, id: string): TreePlace | null {
  const index = sheet.roots.indexOf(id)
  if (index >= 0) return { parent: null, index }
  for (const node of Object.values(sheet.nodes)) {
    if (!hasContent(node, 'group')) continue
    const at = node.content.children.indexOf(id)
    if (at >= 0) return { parent: node.id, index: at }
  }
  return null
}

export interface Walked {
  readonly node: SheetNode
  /** The group it lies in, or null. */
  readonly parent: string | null
  /** 0 on the sheet itself. */
  readonly depth: number
}

/** Every layer, back first, each group before what lies in it. */
export function walkSheet(sheet: Tree, parent: string | null = null, depth = 0): Walked[] {
  return childrenOf(sheet, parent).flatMap((id) => {
    const node = sheet.nodes[id]
    if (!node) return []
    const own: Walked = { node, parent, depth }
    return hasContent(node, 'group') ? [own, ...walkSheet(sheet, id, depth + 1)] : [own]
  })
}

/** Every layer, back first, each group before what lies in it. */
export const layersOf = (sheet: Tree): SheetNode[] => walkSheet(sheet).map(({ node }) => node)

/** Ids of a layer and all that lies in it. */
export function withinLayer(sheet: Tree, id: string): string[] {
  const node = sheet.nodes[id]
  if (!node) return []
  return hasContent(node, 'group')
    ? [id, ...node.content.children.flatMap((child) => withinLayer(sheet, child))]
    : [id]
}

/** Ids of the groups a layer lies in, the innermost first. */
export function groupsOf(sheet: Tree, id: string): string[] {
  const parent = placeOf(sheet, id)?.parent ?? null
  return parent === null ? [] : [parent, ...groupsOf(sheet, parent)]
}

/** Puts a layer that is not there yet at a place. */
export function insertNode(sheet: Tree, node: SheetNode, { parent, index }: TreePlace): void {
  if (sheet.nodes[node.id]) throw new InvalidValueError(`layer ${node.id}`, 'must not be there twice')
  const list = childrenOf(sheet, parent)
  sheet.nodes[node.id] = node
  list.splice(Math.min(list.length, Math.max(0, index)), 0, node.id)
}

/** Takes a layer out with all that lies in it. */
export function removeNode(sheet: Tree, id: string): void {
  const place = placeOf(sheet, id)
  if (!place) return
  childrenOf(sheet, place.parent).splice(place.index, 1)
  for (const gone of withinLayer(sheet, id)) delete sheet.nodes[gone]
}

/**
 * Moves a layer, with all that lies in it.
 * @param to its place once it is there: positions are counted without it.
 * @returns whether anything moved: nothing goes into itself.
 */
export function moveNode(sheet: Tree, id: string, to: TreePlace): boolean {
  const from = placeOf(sheet, id)
  if (!from || (to.parent !== null && withinLayer(sheet, id).includes(to.parent))) return false
  const list = childrenOf(sheet, to.parent)
  const most = list.length - (from.parent === to.parent ? 1 : 0)
  const index = Math.min(most, Math.max(0, to.index))
  if (from.parent === to.parent && from.index === index) return false
  childrenOf(sheet, from.parent).splice(from.index, 1)
  list.splice(index, 0, id)
  return true
}

/**
 * A layer and all that lies in it again, under new ids; not yet part of the tree.
 * @returns its nodes, itself first.
 */
export function copyNodes(sheet: Tree, id: string, newId: () => string): SheetNode[] {
  const ids = new Map(withinLayer(sheet, id).map((old) => [old, newId()]))
  return [...ids].map(([old, own]) => {
    // Plain data: a draft cannot be cloned as it is. What refers to one of them refers to its copy.
    const copy = JSON.parse(JSON.stringify(sheet.nodes[old]), (key, value: unknown) =>
      key !== 'name' && typeof value === 'string' ? (ids.get(value) ?? value) : value,
    ) as SheetNode
    copy.id = own
    copy.locked = false
    copy.effects = copy.effects.map((effect) => ({ ...effect, id: newId() }))
    return copy
  })
}

/** Puts what {@link copyNodes} gave at a place. */
export function insertCopies(sheet: Tree, copies: readonly SheetNode[], place: TreePlace): void {
  const [first, ...rest] = copies
  if (!first) return
  for (const node of rest) sheet.nodes[node.id] = node
  insertNode(sheet, first, place)
}

/** What a schema cannot see: circles, layers that lie nowhere or twice, names that lead nowhere. In words. */
export function validateTree({ roots, nodes }: Tree): string[] {
  const problems: string[] = []
  const met = new Set<string>()
  const visit = (ids: readonly string[], within: readonly string[]): void => {
    for (const id of ids) {
      const node = Object.hasOwn(nodes, id) ? nodes[id] : undefined
      if (!node) problems.push(`a layer "${id}" is named that is not there`)
      else if (within.includes(id)) problems.push(`group ${node.name} lies in itself`)
      else if (met.has(id)) problems.push(`layer ${node.name} lies in two places`)
      else {
        met.add(id)
        if (node.id !== id) problems.push(`layer ${node.name} stands under another name`)
        if (hasContent(node, 'group')) visit(node.content.children, [...within, id])
      }
    }
  }
  visit(roots, [])
  for (const [id, node] of Object.entries(nodes))
    if (!met.has(id)) problems.push(`layer ${node.name} lies nowhere`)
  return problems
}
