import nextTypescript from 'eslint-config-next/typescript'
import nextVitals from 'eslint-config-next/core-web-vitals'
import { noImportCircles } from './scripts/no-import-circles.mjs'

/** Imports point one way: app → features → ui/state → data/engine → core. */
const forbid = (...folders) => [
  'error',
  {
    patterns: folders.flatMap((folder) => [
      {
        group: [
          `@/${folder}`,
          `@/${folder}/**`,
          `../${folder}/**`,
          `../../${folder}/**`,
          `../../../${folder}/**`,
        ],
        message: `Imports point one way: app → features → ui/state → data/engine → core (found ${folder}).`,
      },
    ]),
  },
]
const rule = (files, ...folders) => ({ files, rules: { 'no-restricted-imports': forbid(...folders) } })

const config = [
  { ignores: ['.next/**', '.build/**', 'node_modules/**', 'next-env.d.ts', 'kernel/**'] },
  ...nextVitals,
  ...nextTypescript,
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { varsIgnorePattern: '^_', argsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      eqeqeq: ['error', 'smart'],
      'no-console': 'error',
      '@next/next/no-img-element': 'off',
    },
  },
  {
    files: ['src/**'],
    plugins: { house: { rules: { 'no-import-circles': noImportCircles } } },
    rules: { 'house/no-import-circles': 'error' },
  },
  {
    files: ['cli/**', 'scripts/**', 'bench/**', 'demo/**', 'tests/**'],
    rules: { 'no-console': 'off' },
  },
  rule(['src/core/**'], 'app', 'features', 'ui', 'state', 'data', 'engine'),
  rule(['src/engine/**'], 'app', 'features', 'ui', 'state', 'data'),
  rule(['src/data/**'], 'app', 'features', 'ui', 'state', 'engine'),
  rule(['src/state/**'], 'app', 'features', 'ui'),
  rule(['src/ui/**'], 'app', 'features'),
  rule(['src/features/**'], 'app'),
  rule(['cli/**'], 'app', 'features', 'ui', 'state'),
]

export default config
