'use client'

import { createContext, useContext } from 'react'

/** The unit in which lengths of a sheet are shown, and how many of it a pixel of the sheet is. */
export interface LengthUnit {
  readonly unit: string
  readonly perPx: number
  readonly step: number
}

const PIXELS: LengthUnit = { unit: 'px', perPx: 1, step: 0 }

const LengthUnitContext = createContext<LengthUnit>(PIXELS)

export const LengthUnitProvider = LengthUnitContext.Provider

/** How lengths are shown here: pixels of the sheet where nobody says otherwise. */
export const useLengthUnit = (): LengthUnit => useContext(LengthUnitContext)
