/** Colours of the bench by day and by night; pieces use them as variables (`var(--paper)`). */
export const BENCH_COLOURS = {
  light: {
    paper: '#f3efe7',
    raised: '#faf7f1',
    low: '#ebe5d9',
    rule: '#ddd5c6',
    'rule-strong': '#d0c6b3',
    ink: '#26221d',
    'ink-2': '#4d463c',
    'ink-3': '#6b6256',
    clay: '#a84a29',
    slate: '#3e5c66',
    ochre: '#8a4f17',
    'ochre-paper': '#fbf0e2',
    'ochre-ring': '#c07a35',
  },
  dark: {
    paper: '#1f1d1a',
    raised: '#292622',
    low: '#181613',
    rule: '#3b3731',
    'rule-strong': '#4d483f',
    ink: '#ece6da',
    'ink-2': '#c9c0b1',
    'ink-3': '#a39a8b',
    clay: '#d98a66',
    slate: '#8fb0ba',
    ochre: '#e2a766',
    'ochre-paper': '#33291c',
    'ochre-ring': '#c07a35',
  },
} as const

export type BenchName = keyof typeof BENCH_COLOURS

/** The colours of one bench as variables. */
export const colourVariables = (bench: BenchName): Record<string, string> => ({
  ...Object.fromEntries(Object.entries(BENCH_COLOURS[bench]).map(([name, value]) => [`--${name}`, value])),
  colorScheme: bench,
})
