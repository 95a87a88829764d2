import { z } from 'zod'

export const version4 = z.looseObject({
  version: z.literal(4),
  models: z.array(z.looseObject({ parts: z.array(z.looseObject({})) })),
  sheets: z.array(z.looseObject({})),
})

/** Hiding a part took its role; a picture of another shape was stretched over its sheet. */
export const fromVersion4 = (document: z.infer<typeof version4>): unknown => ({
  ...document,
  version: 5,
  models: document.models.map((model) => ({
    ...model,
    parts: model.parts.map((part) => ({ ...part, hidden: false })),
  })),
  sheets: document.sheets.map((sheet) => ({ ...sheet, fit: 'extend' })),
})
