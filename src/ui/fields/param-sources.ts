'use client'

import { createContext, useContext } from 'react'

export interface Named {
  readonly id: string
  readonly name: string
}

/** What parameters can be chosen from: passes by kind, pictures and layers of the sheet at work. */
export interface ParamSources {
  readonly passes: (kind: string) => readonly Named[]
  readonly pictures: readonly Named[]
  readonly layers: readonly Named[]
  /** Takes a grading table in. @returns its id. @throws {Error} naming the file where it cannot be read or stored. */
  readonly addTable: (file: File) => Promise<string>
}

const NOTHING: ParamSources = {
  passes: () => [],
  pictures: [],
  layers: [],
  addTable: () => Promise.reject(new Error('no project is open')),
}
const context = createContext<ParamSources>(NOTHING)

export const ParamSourcesProvider = context.Provider
export const useParamSources = (): ParamSources => useContext(context)
