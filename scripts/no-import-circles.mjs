// A lint rule: no file may need, by whatever way, a file that needs it. Types count, too: two files that need each other
// are one thing, or hold a third that both need.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import path from 'node:path'

const IMPORT = /(?:import|export)\s[^'"]*?from\s+'([^']+)'|import\(\s*'([^']+)'\s*\)/g

/** All TypeScript files below a folder but tests, which nobody imports. */
function filesBelow(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const full = path.join(folder, entry.name)
    if (entry.isDirectory()) return filesBelow(full)
    return /\.tsx?$/.test(entry.name) && !/\.test\.tsx?$/.test(entry.name) ? [full] : []
  })
}

/** The file an import names; null for packages. */
function resolve(from, spec, root) {
  const base = spec.startsWith('@/')
    ? path.join(root, spec.slice(2))
    : spec.startsWith('.')
      ? path.resolve(path.dirname(from), spec)
      : null
  if (!base) return null
  return [base, `${base}.ts`, `${base}.tsx`].find((file) => /\.tsx?$/.test(file) && existsSync(file)) ?? null
}

/** @returns for each file what it imports, as a map of its import's words to the file they name. */
export function importGraph(root) {
  const graph = new Map()
  for (const file of filesBelow(root)) {
    const named = new Map()
    for (const [, plain, late] of readFileSync(file, 'utf8').matchAll(IMPORT)) {
      const target = resolve(file, plain ?? late, root)
      if (target) named.set(plain ?? late, target)
    }
    graph.set(file, named)
  }
  return graph
}

/** @returns the number of each file's circle: files that need each other have the same (Tarjan 1972). */
export function circles(graph) {
  const order = new Map()
  const low = new Map()
  const stack = []
  const circle = new Map()
  const visit = (file) => {
    order.set(file, order.size)
    low.set(file, order.get(file))
    stack.push(file)
    for (const next of graph.get(file)?.values() ?? []) {
      if (!order.has(next)) visit(next)
      if (!circle.has(next)) low.set(file, Math.min(low.get(file), low.get(next)))
    }
    if (low.get(file) !== order.get(file)) return
    for (let member = ''; member !== file;) {
      member = stack.pop()
      circle.set(member, order.get(file))
    }
  }
  for (const file of graph.keys()) if (!order.has(file)) visit(file)
  return circle
}

const known = new Map()

export const noImportCircles = {
  meta: {
    type: 'problem',
    schema: [],
    messages: { circle: '{{ spec }} needs this file, too: a circle. Give what both need a home of its own.' },
  },
  create(context) {
    const root = path.join(context.cwd, 'src')
    if (!known.has(root)) {
      const graph = importGraph(root)
      known.set(root, { graph, circle: circles(graph) })
    }
    const { graph, circle } = known.get(root)
    const check = (node) => {
      const spec = node.source?.value
      const target = graph.get(context.filename)?.get(spec)
      if (target && circle.get(target) === circle.get(context.filename))
        context.report({ node, messageId: 'circle', data: { spec } })
    }
    return { ImportDeclaration: check, ExportNamedDeclaration: check, ExportAllDeclaration: check }
  },
}
