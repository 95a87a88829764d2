import { InvalidValueError } from '@/core/errors'
import { safeFileName } from '@/core/formats/safe-file-name'
import type { ParamValues } from '@/core/params'
import { paramControls, paramDefaults, parseParams } from '@/core/params'
import { isPassKind, PASS_KINDS, passKind, type PassKindName } from '@/core/passes/registry'
import type { ProjectPass } from '@/data/project-schema'
import { UsageError } from './usage-error'

/** The most samples a pixel, or rays a sample, can have; see `effortSchema`. */
export const MOST_EFFORT = 4096

/** A pass that was asked for. */
export interface WantedPass {
  readonly kind: PassKindName
  /** How it is set up in the project, if it is there. */
  readonly stored: ProjectPass | undefined
  /** What it is called in file names. */
  readonly word: string
}

/**
 * A pass by its kind, or by its name or id in the project: of two lightings each has its own.
 * @param stored passes of the shot; undefined without a project.
 */
export function wantedPass(name: string, stored: readonly ProjectPass[] | undefined): WantedPass {
  const meant = stored?.find(({ id }) => id === name)
  if (meant) return { kind: meant.kind, stored: meant, word: safeFileName(meant.id) }
  if (isPassKind(name)) return { kind: name, stored: stored?.find((p) => p.kind === name), word: name }
  const found = stored?.find((p) => p.name.toLowerCase() === name.toLowerCase())
  if (found) return { kind: found.kind, stored: found, word: safeFileName(found.name) }
  const own = stored ? `, and in the project ${stored.map((p) => p.name).join(', ')}` : ''
  throw new UsageError(`there is no pass "${name}"; there are ${PASS_KINDS.join(', ')}${own}`)
}

/** One parameter, as it was typed. */
export interface Setting {
  readonly kind: string
  readonly param: string
  readonly value: number | string | boolean | readonly unknown[]
  /** Whether it is a render parameter; else it is a look parameter. */
  readonly render: boolean
}

/** Chooses one of a pass's ready looks; single parameters change it. */
const STYLE = 'style'

/** `KIND.PARAM=VALUE`, or `KIND.look.PARAM=VALUE` where a render parameter is called the same; lengths in world units, or in figure diagonals with a percent sign. */
export function parseSetting(text: string, figureDiagonal: number): Setting {
  const match = /^([a-z]+)\.(look\.)?([a-zA-Z]+)=(.+)$/.exec(text)
  if (!match || !isPassKind(match[1])) throw new UsageError(`--set takes KIND.PARAM=VALUE (got "${text}")`)
  const [, kind, isLook, param, raw] = match
  const pass = passKind(match[1])
  const styles = Object.keys(pass.readyLooks)
  if (param === STYLE && styles.length > 0) {
    if (!styles.includes(raw))
      throw new UsageError(`${kind} has no style "${raw}"; it has ${styles.join(', ')}`)
    return { kind, param, value: raw, render: false }
  }
  const inRender = isLook ? undefined : paramControls(pass.renderSchema).find((c) => c.name === param)
  const control = inRender ?? paramControls(pass.lookSchema).find((c) => c.name === param)
  if (!control) {
    const known = [
      ...Object.keys(paramDefaults(pass.renderSchema)),
      ...Object.keys(paramDefaults(pass.lookSchema)),
    ]
    throw new UsageError(`${kind} has no parameter "${param}"; it has ${known.join(', ')}`)
  }
  const render = inRender !== undefined
  if (control.control === 'toggle') {
    if (raw !== 'true' && raw !== 'false')
      throw new UsageError(`${kind}.${param} must be true or false (got "${raw}")`)
    return { kind, param, value: raw === 'true', render }
  }
  if (control.control !== 'number') return { kind, param, value: listed(raw) ?? raw, render }
  const percent = raw.endsWith('%')
  const number = Number(percent ? raw.slice(0, -1) : raw)
  if (!Number.isFinite(number)) throw new UsageError(`${kind}.${param} must be a number (got "${raw}")`)
  const isLength = control.unit === '%D'
  if (percent && !isLength) throw new UsageError(`${kind}.${param} takes no percent (got "${raw}")`)
  return { kind, param, value: isLength && !percent ? (number / figureDiagonal) * 100 : number, render }
}

/** Curves, ranges and the like as JSON lists; null for a plain word. What is in them is the schema's to judge. */
function listed(raw: string): readonly unknown[] | null {
  try {
    const value: unknown = raw.startsWith('[') ? JSON.parse(raw) : null
    return Array.isArray(value) ? value : null
  } catch {
    return null
  }
}

/** Values that a schema refuses are wrong use. */
export function asUsage<T>(action: () => T): T {
  try {
    return action()
  } catch (error) {
    if (error instanceof InvalidValueError) throw new UsageError(error.message)
    throw error
  }
}

/** What a pass is rendered with: as the project has it, changed by settings. @throws {UsageError} */
export function renderParams({ kind, stored }: WantedPass, settings: readonly Setting[]): ParamValues {
  const own = settings.filter((s) => s.kind === kind && s.render)
  const params = { ...stored?.params, ...Object.fromEntries(own.map((s) => [s.param, s.value])) }
  return asUsage(() => parseParams(passKind(kind).renderSchema, params, kind))
}

/** How a pass is shown: as a style or by itself, changed by settings. @throws {UsageError} */
export function lookParams(kind: PassKindName, settings: readonly Setting[]): ParamValues {
  const own = settings.filter((s) => s.kind === kind && !s.render)
  const style = own.find(({ param }) => param === STYLE)
  const base = style ? passKind(kind).readyLooks[String(style.value)].look : {}
  const changes = own.filter(({ param }) => param !== STYLE).map((s) => [s.param, s.value])
  const params = { ...base, ...Object.fromEntries(changes) }
  return asUsage(() => parseParams(passKind(kind).lookSchema, params, kind))
}
