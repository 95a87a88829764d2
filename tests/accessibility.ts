import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { BenchPage } from './bench-page'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/**
 * What axe-core finds wrong with what is shown, one line each.
 * @param rules the ones that are asked for; all where left out.
 */
export async function violations(page: BenchPage, rules?: readonly string[]): Promise<string[]> {
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
