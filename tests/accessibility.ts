import { readdirSync, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import path from 'node:path'
import type { BenchPage } from './bench-page'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** Classes that have styles in some file of the application. */
const ownClasses = (): string[] => {
  const src = path.join(import.meta.dirname, '..', 'src')
  const texts = readdirSync(src, { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.tsx$|pieces.[^.]+\.ts$/.test(file))
    .map((file) => readFileSync(path.join(src, file), 'utf8'))
    .filter((text) => /pageStyles\(|as const$/m.test(text))
  const keys = texts.flatMap((text) => [...text.matchAll(/^ +(['"])(.*\..*)\1: \{/gm)])
  return [
    ...new Set(keys.flatMap(([, , key]) => [...key.matchAll(/\.([a-z][\w-]*)/g)].map(([, own]) => own))),
  ]
}
let classes: string[] | undefined

/** What has a class of ours whose styles do not stand in the page: they were put beside something else. */
const unstyled = (page: BenchPage): Promise<string[]> =>
  page.driver.executeScript(
    `const known = new Set()
     const read = (rules) => { for (const rule of rules) {
       for (const [, own] of (rule.selectorText ?? '').matchAll(/\\.([a-z][\\w-]*)/g)) known.add(own)
       if (rule.cssRules) read(rule.cssRules)
     } }
     for (const sheet of document.styleSheets) read(sheet.cssRules)
     const missing = arguments[0].filter((own) => !known.has(own) && document.querySelector('body .' + own))
     return missing.map((own) => 'unstyled: .' + own + ' ' + document.querySelector('body .' + own).outerHTML.slice(0, 100))`,
    (classes ??= ownClasses()),
  )

/**
 * What is wrong with what is shown, one line each: what axe-core finds, and what has lost its styles.
 * @param rules the ones of axe-core that are asked for; all where left out.
 */
export async function violations(page: BenchPage, rules?: readonly string[]): Promise<string[]> {
  return [...(await unstyled(page)), ...(await axeViolations(page, rules))]
}

async function axeViolations(page: BenchPage, rules?: readonly string[]): Promise<string[]> {
  await page.driver.executeScript(axe)
  return page.driver.executeAsyncScript(
    `const [rules, done] = arguments
     // A dialog that is still fading in has other colours than the one that is read.
     const fading = () => document.getAnimations().filter((a) =>
       a.playState === 'running' && Number.isFinite(a.effect.getComputedTiming().endTime))
     const settled = async () => {
       for (let left = 20; left > 0 && fading().length > 0; left--) {
         await Promise.race([Promise.allSettled(fading().map((a) => a.finished)), new Promise((after) => setTimeout(after, 250))])
         await new Promise(requestAnimationFrame)
       }
     }
     settled().then(() => axe.run(document, { resultTypes: ['violations'], ...(rules ? { runOnly: rules } : {}) })).then(({ violations }) =>
       done(violations.flatMap(({ id, nodes }) =>
         nodes.map((n) => id + ': ' + n.html.slice(0, 140) + ' ' + (n.failureSummary || '').replace(/\\s+/g, ' ').slice(0, 200)))))`,
    rules ?? null,
  )
}
