/** How passes of another shape lie on a sheet: shown whole with room round them, or filling it and cut off. */
export const SHEET_FITS = ['extend', 'crop'] as const
export type SheetFit = (typeof SHEET_FITS)[number]
