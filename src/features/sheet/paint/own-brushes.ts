import { z } from 'zod'
import { create } from 'zustand'
import { brushSchema, type BrushParams } from '@/core/paint/brush'
import { OWN_TIP_SIDE, ownTip, tipOfPicture } from '@/core/paint/own-tip'

/** Brushes of the painter's own: they belong to who paints, not to a project. */
const ownBrushSchema = z.object({
  name: z.string().min(1).max(80),
  /** Its kind, or one of one's own: see own-tip.ts. */
  tip: z.string().max(40_000),
  seed: z.number().int().min(0).max(9999),
  params: brushSchema,
})
export type OwnBrush = z.infer<typeof ownBrushSchema>

const KEY = 'relief.brushes'
/** As many are kept. */
const MOST = 60

/** What is kept: brushes that can be read, and what of them cannot (of a later version, say), which stays as it is. */
function stored(): { readonly brushes: OwnBrush[]; readonly others: unknown[] } {
  const brushes: OwnBrush[] = []
  const others: unknown[] = []
  try {
    const text = typeof localStorage === 'undefined' ? null : localStorage.getItem(KEY)
    const list: unknown = text === null ? [] : JSON.parse(text)
    for (const one of Array.isArray(list) ? list : []) {
      const read = ownBrushSchema.safeParse(one)
      if (read.success) brushes.push(read.data)
      else others.push(one)
    }
  } catch {
    // Nothing of it can be read.
  }
  return { brushes, others }
}

export const useOwnBrushes = create<{ readonly brushes: readonly OwnBrush[] }>(() => ({
  brushes: stored().brushes,
}))

/** Changes what is kept, as it is now: another tab may have kept some too. @throws {Error} in words where there is no room. */
function keep(change: (brushes: readonly OwnBrush[]) => readonly OwnBrush[]): void {
  const { brushes: before, others } = stored()
  const brushes = change(before)
  try {
    localStorage.setItem(KEY, JSON.stringify([...brushes, ...others]))
  } catch {
    throw new Error('There is no room for another brush: take one away first.')
  }
  useOwnBrushes.setState({ brushes })
}

/** Keeps a brush under a name that no other has. @returns that name. @throws {Error} in words. */
export function keepBrush(wanted: string, brush: Omit<OwnBrush, 'name'>): string {
  const plain = wanted.trim().slice(0, 70) || 'Brush'
  let name = plain
  keep((brushes) => {
    if (brushes.length >= MOST)
      throw new Error(`${MOST} brushes are kept, as many as there can be: take one away first.`)
    const names = new Set(brushes.map((own) => own.name))
    for (let i = 2; names.has(name); i++) name = `${plain} ${i}`
    return [...brushes, { ...brush, name }]
  })
  return name
}

export const dropBrush = (name: string): void => keep((brushes) => brushes.filter((own) => own.name !== name))

/** A tip of what a picture shows, whole, in the middle of the tip. @throws {Error} naming the file where it is no picture. */
export async function tipFromFile(file: File): Promise<string> {
  const picture = await createImageBitmap(file).catch(() => {
    throw new Error(`${file.name} cannot be read as a picture.`)
  })
  const n = OWN_TIP_SIDE
  const canvas = new OffscreenCanvas(n, n)
  const context = canvas.getContext('2d')
  if (!context) throw new Error('This browser cannot read pictures.')
  const scale = n / Math.max(picture.width, picture.height)
  const [w, h] = [picture.width * scale, picture.height * scale]
  context.imageSmoothingQuality = 'high'
  context.drawImage(picture, (n - w) / 2, (n - h) / 2, w, h)
  picture.close()
  return ownTip(tipOfPicture(context.getImageData(0, 0, n, n).data))
}

/** How a brush of a tip of one's own begins. */
export const OWN_TIP_BRUSH: Partial<BrushParams> = { spacing: 0.18, flow: 0.8, jitterAngle: 0.15 }
