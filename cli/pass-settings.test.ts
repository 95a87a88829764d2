import { describe, expect, it } from 'vitest'
import { paramDefaults } from '@/core/params'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { settingTexts } from '@/core/passes/setting-text'
import { lookParams, parseSetting, renderParams } from './pass-settings'

describe('settings', () => {
  it.each(PASS_KINDS)('of %s say all that it is rendered with and shown as', (kind) => {
    const { renderSchema, lookSchema } = passKind(kind)
    const [render, look] = [paramDefaults(renderSchema), paramDefaults(lookSchema)]
    const texts = [...settingTexts(kind, 'renderSchema', render), ...settingTexts(kind, 'lookSchema', look)]
    expect(texts).toHaveLength(Object.keys(render).length + Object.keys(look).length)
    const settings = texts.map((text) => parseSetting(text, 12.5))
    expect(settings.filter((own) => own.render)).toHaveLength(Object.keys(render).length)
    expect(renderParams({ kind, stored: undefined, word: kind }, settings)).toEqual(render)
    expect(lookParams(kind, settings)).toEqual(look)
  })
  it('tell a look from what is rendered where both are called the same', () => {
    expect(parseSetting('lit.look.reflection=0.5', 1)).toMatchObject({ value: 0.5, render: false })
    expect(parseSetting('lit.reflection=false', 1)).toMatchObject({ value: false, render: true })
    expect(() => parseSetting('lit.look.reflection=false', 1)).toThrow(/must be a number/)
    expect(() => parseSetting('lit.look.=1', 1)).toThrow(/--set takes/)
  })
})
