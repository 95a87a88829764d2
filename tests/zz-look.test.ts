import { writeFileSync } from 'node:fs'
import { it } from 'vitest'
import { BenchPage } from './bench-page'
it('look', async () => {
  const page = await BenchPage.open()
  const shoot = async (n: string) =>
    writeFileSync(`/tmp/look-${n}.png`, Buffer.from(await page.driver.takeScreenshot(), 'base64'))
  try {
    await page.driver.get(page.address)
    await page.css('.project-card')
    await page.driver.sleep(2500)
    await shoot('start')
    await page.click('[data-testid=making-low-water]')
    await page.css('[data-testid=making]')
    await page.driver.sleep(2500)
    await page.click('[data-testid=making-next]')
    await page.click('[data-testid=making-next]')
    await page.click('[data-testid=making-next]')
    await page.driver.sleep(5000)
    await shoot('making')
    await page.press('\uE00F')
    await page.driver.sleep(2000)
    await page.press('\uE00F')
    await page.driver.sleep(2500)
    await shoot('making2')
  } finally {
    await page.close()
  }
})
