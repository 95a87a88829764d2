/** The steps of the work, in order. */
export const STEPS = ['models', 'shot', 'passes', 'sheet', 'poster', 'turntable', 'export'] as const
export type Step = (typeof STEPS)[number]
export const isStep = (text: string): text is Step => (STEPS as readonly string[]).includes(text)
export const stepLabels: Readonly<Record<Step, string>> = {
  models: 'Models',
  shot: 'Shot',
  passes: 'Passes',
  sheet: 'Sheet',
  poster: 'Poster',
  turntable: 'Turntable',
  export: 'Export',
}
