// One file: one worker kept in step with the document: what was sent last decides what is sent next.
import type { OpenRasterFile } from '@/core/formats/read-openraster'
import { passBytes } from '@/core/passes/pass-bytes'
import { activePasses, activeSheet } from '@/data/active-shot'
import { pictureFile } from '@/data/project-pictures'
import { loadFile } from '@/data/project-repository'
import type { PassResult } from '@/core/passes/pass-result'
import { BrokenWorkerError, CancelledError } from '@/core/errors'
import type { Project, ProjectPass, ProjectSheet, Rendered } from '@/data/project-schema'
import { paintedSheet } from '@/data/shown-sheets'
import { neededBy, seenAs, type Needed } from '@/data/sheet-needs'
import { seenKey } from '@/data/shown-revision'
import { fetchPaint, fetchResult } from '@/data/storage-service'
import { SheetService } from '@/engine/sheet-service'
import { fontFiles } from './font-files'
import { owedTiles } from './owed-tiles'
import { paintProblemId, setSourceProblems } from './source-problems'
import { overduePaint } from './unseen-paint'

const NOTHING_NEEDED: Needed = {
  passes: [],
  pictureIds: new Set(),
  paint: new Set(),
  fontIds: new Set(),
}

let service: SheetService | null = null
/** What a worker already holds. */
export interface Given {
  readonly projectId: string
  /** Pass id to result id. */
  readonly passes: Map<string, string>
  readonly pictures: Set<string>
  readonly fonts: Set<string>
  /** Names of tiles that were painted by hand. */
  readonly paint: Set<string>
  /** Those of them that no sheet shows, the longest first. */
  readonly unseen: Set<string>
  /** Pass id to what its lights were last said to be. */
  readonly lights: Map<string, string>
  /** Pass or picture id to why it cannot be used. */
  readonly problems: Map<string, string>
}
export const nothingGiven = (projectId: string): Given => ({
  projectId,
  passes: new Map(),
  pictures: new Set(),
  fonts: new Set(),
  paint: new Set(),
  unseen: new Set(),
  lights: new Map(),
  problems: new Map(),
})
let given: Given = nothingGiven('')

/** The sheet worker of this tab. */
export function sheetService(): SheetService {
  if (service?.isBroken) letGo()
  service ??= new SheetService()
  return service
}

/** Ends the worker, with all that it holds. */
function letGo(): void {
  service?.close()
  service = null
  given = nothingGiven('')
}

/** Does once more what a worker broke off: another is begun for it, so that nothing is lost but the time. */
async function evenIfBroken<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } catch (error) {
    if (!(error instanceof BrokenWorkerError)) throw error
    return work()
  }
}

/**
 * Asks the worker something of a project once it holds all that it needs for it; a second worker where the first ends by
 * itself meanwhile.
 * @throws {Error} what was asked failed; {@link BrokenWorkerError} when it broke the second worker too.
 */
export const askSheet = <T>(project: Project, ask: (worker: SheetService) => Promise<T>): Promise<T> =>
  evenIfBroken(async () => {
    await syncSheet(project)
    return ask(sheetService())
  })

/** Does something in a worker of its own, so that the proof stays live meanwhile and a cancel costs nothing else. */
async function inOwnWorker<T>(signal: AbortSignal, work: (own: SheetService) => Promise<T>): Promise<T> {
  if (signal.aborted) throw new CancelledError('The sheet’s work')
  const own = new SheetService()
  const stop = () => own.close()
  signal.addEventListener('abort', stop)
  try {
    return await work(own)
  } finally {
    signal.removeEventListener('abort', stop)
    own.close()
  }
}

/** Gives a worker what was rendered of a pass just now, as it is noted in the project; its channels move. */
export async function giveRendered(
  worker: SheetService,
  project: Project,
  pass: ProjectPass,
  result: PassResult | undefined,
): Promise<void> {
  if (!result || !pass.rendered) return
  const { facts, ...seen } = seenAs(project, pass)
  const lit = { ...result, ...seen, ...(facts && { facts }) }
  const revision = pass.rendered.resultId
  await worker.give({ type: 'pass', passId: pass.id, shotId: pass.shotId, revision, result: lit })
}

/**
 * Exports a sheet.
 * @param results of passes that are not taken from storage: noted in the project as rendered, and kept nowhere.
 * @throws {CancelledError} when aborted.
 */
export const exportSheetFile = (
  project: Project,
  sheet: ProjectSheet,
  message: Parameters<SheetService['export']>[0],
  onProgress: (share01: number) => void,
  signal: AbortSignal,
  results: ReadonlyMap<string, PassResult> = new Map(),
): Promise<Blob> =>
  inOwnWorker(signal, async (own) => {
    const needed = neededBy(project, sheet)
    const stored = needed.passes.filter(({ id }) => !results.has(id))
    await bringUp(own, project, nothingGiven(project.id), { ...needed, passes: stored })
    for (const pass of needed.passes) await giveRendered(own, project, pass, results.get(pass.id))
    await own.takeSheet(paintedSheet(project, sheet))
    return own.export(message, onProgress)
  })

/** A picture of a stored project's sheet at work, cut to a size; the worker of what is open knows nothing of it. */
export const pictureOfStored = (
  project: Project,
  size: Parameters<SheetService['snapshot']>[1],
): ReturnType<SheetService['snapshot']> =>
  inOwnWorker(new AbortController().signal, async (own) => {
    const sheet = activeSheet(project)
    await bringUp(own, project, nothingGiven(project.id), neededBy(project, sheet))
    await own.takeSheet(paintedSheet(project, sheet))
    return own.snapshot(null, size)
  })

/** The type and lines of a page as an SVG file. @throws {CancelledError} when aborted. */
export const posterSvgFile = (
  project: Project,
  sheet: ProjectSheet,
  message: Parameters<SheetService['posterSvg']>[0],
  signal: AbortSignal,
): Promise<Uint8Array<ArrayBuffer>> =>
  inOwnWorker(signal, async (own) => {
    await bringUp(own, project, nothingGiven(project.id), neededBy(project, sheet))
    await own.takeSheet(paintedSheet(project, sheet))
    return own.posterSvg(message)
  })

/** A page of a poster as a PDF. @throws {CancelledError} when aborted. */
export const posterPdfFile = (
  project: Project,
  sheet: ProjectSheet,
  message: Parameters<SheetService['posterPdf']>[0],
  onProgress: (share01: number) => void,
  signal: AbortSignal,
): Promise<Uint8Array<ArrayBuffer>> =>
  inOwnWorker(signal, async (own) => {
    await bringUp(own, project, nothingGiven(project.id), neededBy(project, sheet))
    await own.takeSheet(paintedSheet(project, sheet))
    return own.posterPdf(message, onProgress)
  })

/** Carries paint over from one view of the shot to another. @throws {CancelledError} when aborted. */
export const carryOverPaint = (
  project: Project,
  message: Parameters<SheetService['carryOver']>[0],
  onProgress: (share01: number) => void,
  signal: AbortSignal,
): ReturnType<SheetService['carryOver']> =>
  inOwnWorker(signal, async (own) => {
    const paint = new Set(Object.values(message.grid.tiles))
    await bringUp(own, project, nothingGiven(project.id), { ...NOTHING_NEEDED, paint })
    return own.carryOver(message, onProgress)
  })

/** What an OpenRaster file holds. @throws {CancelledError} when aborted, {Error} naming the file where it cannot be read. */
export const readLayersFile = async (
  file: File,
  onProgress: (share01: number) => void,
  signal: AbortSignal,
): Promise<OpenRasterFile> => {
  const bytes = new Uint8Array(await file.arrayBuffer())
  return inOwnWorker(signal, (own) => own.readLayers(file.name, bytes, onProgress))
}

/** The sheet worker made tiles itself: they need not be brought to it. */
export const knowsPaint = (names: Iterable<string>): void => {
  for (const name of names) given.paint.add(name)
}

let chain: Promise<void> = Promise.resolve()

/** Brings the worker's passes and pictures up to the project; in order, so a later call sees an earlier one's work. */
export function syncSheet(project: Project): Promise<void> {
  chain = chain.catch(() => undefined).then(() => sync(project))
  return chain
}

/** @param lookAt id of a pass that is looked at now. */
async function sync(project: Project, lookAt: string | null = null): Promise<void> {
  if (service?.isBroken) letGo()
  if (given.projectId !== project.id) {
    const isOther = given.projectId !== ''
    letGo()
    given = nothingGiven(project.id)
    if (isOther) lookedAt = []
  }
  if (lookAt !== null) lookedAt = [lookAt, ...lookedAt.filter((id) => id !== lookAt)]
  const worker = sheetService()
  await bringUp(worker, project, given, neededByBench(project))
  // Its answer comes when what is at work has ended. What is asked of a sheet that it refused is refused too.
  void worker.takeSheet(paintedSheet(project, activeSheet(project))).catch(() => undefined)
  for (const [view, sheet] of besides)
    void worker.takeSheet(paintedSheet(project, sheet), view).catch(() => undefined)
  setSourceProblems(given.problems)
}

/** The most bytes that passes which the sheet does not show may take in the worker. */
const LOOKED_AT_BYTES = 96 * 2 ** 20
/** Ids of passes that were looked at, the last one first. */
let lookedAt: readonly string[] = []

const bytesOf = ({ kind, rendered }: ProjectPass): number =>
  rendered ? passBytes(kind, rendered.lights, rendered.params, rendered.width * rendered.height) : 0

/** Sheets that single views show instead of the one at work, by the numbers of the views. */
const besides = new Map<number, ProjectSheet>()

/** Says that a view shows a sheet of its own from now on; null: the one at work. What it is made from is brought along. */
export function showBeside(view: number, sheet: ProjectSheet | null): void {
  if (sheet) besides.set(view, sheet)
  else if (besides.delete(view)) void service?.dropSheet(view).catch(() => undefined)
}

/** What the bench looks at: the sheets that are shown, what is picked by, and as many passes of its shot as memory allows. */
function neededByBench(project: Project): Needed {
  const shown = [activeSheet(project), ...besides.values()].map((sheet) => neededBy(project, sheet))
  const wanted = new Set([
    ...shown.flatMap(({ passes }) => passes),
    ...activePasses(project).filter(({ kind }) => kind === 'id'),
  ])
  const pictureIds = new Set(shown.flatMap((needed) => [...needed.pictureIds]))
  const paint = new Set(shown.flatMap((needed) => [...needed.paint]))
  const fontIds = new Set(shown.flatMap((needed) => [...needed.fontIds]))
  const before = project.before.filter(({ shotId }) => shotId === project.shotId)
  const others = [...activePasses(project), ...before].filter((pass) => !wanted.has(pass))
  const turn = (pass: ProjectPass) => (lookedAt.includes(pass.id) ? lookedAt.indexOf(pass.id) : Infinity)
  others.sort((a, b) => turn(a) - turn(b) || bytesOf(a) - bytesOf(b))
  let room = LOOKED_AT_BYTES
  for (const pass of others) {
    const bytes = bytesOf(pass)
    // The one looked at last is there whatever it takes.
    if (bytes > room && pass.id !== lookedAt[0]) continue
    wanted.add(pass)
    room -= bytes
  }
  return { passes: [...wanted], pictureIds, paint, fontIds }
}

/**
 * A picture of a pass. Large ones are brought to the worker for it, and make room for the next.
 * @returns null where nothing is rendered of it.
 */
export const passPicture = (project: Project, message: PassPictureAsked) =>
  evenIfBroken(() => pictureOfPass(project, message))

type PassPictureAsked = Parameters<SheetService['raster']>[0] & { readonly type: 'pass-picture' }

function pictureOfPass(project: Project, message: PassPictureAsked): ReturnType<SheetService['raster']> {
  const asked = chain
    .catch(() => undefined)
    .then(async () => {
      await sync(project, message.passId)
      // Asked for before anything else can make it leave; answered when it is.
      return { picture: sheetService().raster(message) }
    })
  const ended = () => undefined
  chain = asked.then(ended, ended)
  return asked.then(({ picture }) => picture)
}

export async function bringUp(
  worker: SheetService,
  project: Project,
  given: Given,
  wanted: Needed,
): Promise<void> {
  // 1. What is not wanted any more is dropped: a removed ID pass must not go on making masks.
  const passIds = new Set(wanted.passes.map(({ id }) => id))
  for (const passId of given.passes.keys()) {
    if (passIds.has(passId)) continue
    given.passes.delete(passId)
    given.lights.delete(passId)
    given.problems.delete(passId)
    await worker.give({ type: 'pass', passId, shotId: '', revision: '', result: null })
  }
  for (const pictureId of given.pictures) {
    if (wanted.pictureIds.has(pictureId)) continue
    given.pictures.delete(pictureId)
    given.problems.delete(pictureId)
    await worker.drop({ type: 'drop-picture', pictureId })
  }
  for (const fontId of given.fonts) {
    if (wanted.fontIds.has(fontId)) continue
    given.fonts.delete(fontId)
    given.problems.delete(fontId)
    await worker.dropFont(fontId)
  }
  const owed = owedTiles.get(given.projectId) ?? new Set<string>()
  const overdue = overduePaint(given.paint, wanted.paint, owed, given.unseen)
  for (const name of overdue) {
    given.paint.delete(name)
    given.problems.delete(paintProblemId(name))
  }
  if (overdue.length > 0) await worker.drop({ type: 'drop-paint', names: overdue })
  // 2. What is new or changed is given.
  for (const pass of wanted.passes) await bringPass(worker, project, given, pass)
  const unpainted = [...wanted.paint].filter((name) => !given.paint.has(name))
  if (unpainted.length > 0)
    for (const { name, bytes } of await fetchPaint(unpainted)) {
      given.paint.add(name)
      await worker.givePaint(name, bytes)
    }
  for (const name of unpainted)
    if (!given.paint.has(name)) {
      // It is not asked for again and again.
      given.paint.add(name)
      given.problems.set(paintProblemId(name), 'a part of what was painted on it is gone from the storage')
    }
  for (const fontId of wanted.fontIds) {
    if (given.fonts.has(fontId)) continue
    given.fonts.add(fontId)
    try {
      await worker.giveFont(fontId, await fontFiles(project, fontId))
    } catch (error) {
      if (error instanceof CancelledError) throw error
      given.problems.set(fontId, error instanceof Error ? error.message : String(error))
    }
  }
  for (const pictureId of wanted.pictureIds) {
    const picture = given.pictures.has(pictureId) ? null : pictureFile(project, pictureId)
    if (!picture) continue
    given.pictures.add(pictureId)
    try {
      const bytes = await loadFile(project.id, picture.fileId)
      await worker.give({ type: 'picture', pictureId, name: picture.name, bytes })
    } catch (error) {
      if (error instanceof CancelledError) throw error
      // The rest of the sheet stands: the layer says what is wrong with its own.
      given.problems.set(pictureId, error instanceof Error ? error.message : String(error))
    }
  }
}

/** A stored pass, or null where it is gone or damaged, which its layers then say. */
async function fetchPass(
  project: Project,
  pass: ProjectPass,
  rendered: Rendered,
  given: Given,
): Promise<PassResult | null> {
  given.problems.delete(pass.id)
  try {
    const result = await fetchResult(project.id, rendered)
    if (!result) given.problems.set(pass.id, `what was rendered of ${pass.name} is gone: render it again`)
    return result
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error)
    given.problems.set(pass.id, `${pass.name} must be rendered again: ${why}`)
    return null
  }
}

async function bringPass(
  worker: SheetService,
  project: Project,
  given: Given,
  pass: ProjectPass,
): Promise<void> {
  const resultId = pass.rendered?.resultId ?? ''
  const seen = seenAs(project, pass)
  const { lights, surfaces, facts } = seen
  const lightKey = seenKey(seen)
  const revision = `${resultId} ${lightKey}`
  if ((given.passes.get(pass.id) ?? '') !== resultId) {
    const result = pass.rendered && (await fetchPass(project, pass, pass.rendered, given))
    const lit = result && { ...result, lights, surfaces, ...(facts && { facts }) }
    await worker.give({ type: 'pass', passId: pass.id, shotId: pass.shotId, revision, result: lit })
    given.passes.set(pass.id, resultId)
  } else if (resultId !== '' && given.lights.get(pass.id) !== lightKey)
    await worker.relight({
      type: 'lights',
      passId: pass.id,
      revision,
      lights,
      surfaces: [...surfaces],
      facts,
    })
  given.lights.set(pass.id, lightKey)
}
