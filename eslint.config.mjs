import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript'
import withNuxt from './.nuxt/eslint.config.mjs'

const ROOMS = [
  'music',
  'formats',
  'notate',
  'parts',
  'hands',
  'edit',
  'ear',
  'coach',
  'words',
  'players',
  'sound',
  'patterns',
  'accompany',
  'recognise',
  'audio',
  'archive',
]
const OUTSIDE_CORE = [
  'vue',
  'nuxt',
  'nuxt/*',
  'pinia',
  'h3',
  'nitropack',
  'drizzle-orm',
  'drizzle-orm/*',
  'node:*',
  '#imports',
  '#app',
  '~/*',
  '@/*',
]

/** What the files of a folder may not import, with the reason that the linter gives. */
const forbidden = (files, patterns) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: { 'no-restricted-imports': ['error', { patterns }] },
})

/** A room of core/, and the other rooms it may use. */
const room = (name, mayUse) =>
  forbidden(
    [`core/${name}/**/*.ts`],
    [
      { group: OUTSIDE_CORE, message: 'core/ is free of interface, database and Node.' },
      {
        group: ROOMS.filter(other => other !== name && !mayUse.includes(other)).flatMap(other => [
          `**/${other}/*`,
          `**/${other}/**`,
        ]),
        message: `core/${name} may use only ${mayUse.join(', ') || 'nothing else of core'}.`,
      },
    ],
  )

/** A layer of server/, and the layers above it that it must not know. */
const layer = (name, above) =>
  forbidden(
    [`server/${name}/**/*.ts`],
    [
      {
        group: [...above.flatMap(other => [`**/${other}/*`, `**/${other}/**`]), '!#shared/**'],
        message: `server/${name} lies beneath ${above.join(', ')}.`,
      },
      { group: ['~/*', '~~/app/*', '**/app/**'], message: 'The server knows nothing of the page.' },
    ],
  )

export default withNuxt(
  { ignores: ['.data/**', '.output/**', 'server/database/migrations/**', 'test-results/**'] },
  {
    settings: {
      // Without these the plugin reads no TypeScript, and a circle goes unseen.
      'import-x/extensions': ['.ts', '.mjs'],
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts'] },
      'import-x/resolver-next': [createTypeScriptImportResolver({ project: '.nuxt/tsconfig.app.json' })],
    },
    rules: {
      'max-len': [
        'error',
        { code: 120, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true, ignoreUrls: true },
      ],
      'import/no-cycle': 'error',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' },
      ],
      // The formatter's business.
      'vue/html-self-closing': 'off',
    },
  },
  {
    files: ['**/*.vue'],
    rules: {
      'max-len': 'off',
      'vue/max-len': [
        'error',
        {
          code: 120,
          template: 120,
          ignoreStrings: true,
          ignoreTemplateLiterals: true,
          ignoreRegExpLiterals: true,
          ignoreUrls: true,
          ignoreHTMLAttributeValues: true,
          ignoreHTMLTextContents: true,
        },
      ],
    },
  },
  forbidden(
    ['app/**/*.ts', 'app/**/*.vue'],
    [{ group: ['~~/server/*', '~~/server/**', '**/server/**'], message: 'What both sides read is in shared/.' }],
  ),
  layer('domain', ['api', 'middleware', 'plugins', 'use-cases', 'heavy', 'queries', 'utils']),
  layer('runtime', ['api', 'middleware', 'plugins', 'use-cases', 'heavy', 'queries', 'utils', 'domain']),
  layer('database', ['api', 'middleware', 'plugins', 'use-cases', 'heavy', 'utils']),
  layer('heavy', ['api', 'middleware', 'plugins', 'use-cases', 'queries', 'utils']),
  layer('security', ['api', 'middleware', 'plugins', 'use-cases', 'utils']),
  layer('use-cases', ['api', 'middleware', 'plugins', 'utils']),
  layer('utils', ['api', 'middleware', 'plugins']),
  room('archive', ['music', 'formats', 'parts', 'ear', 'coach', 'patterns', 'words']),
  room('music', []),
  room('hands', ['music', 'words']),
  room('notate', ['music', 'hands', 'ear']),
  room('formats', ['music', 'hands', 'notate', 'ear', 'words', 'sound', 'patterns']),
  room('parts', ['music']),
  room('sound', ['music', 'ear']),
  room('patterns', ['music', 'sound', 'hands']),
  room('accompany', ['music', 'ear', 'sound', 'patterns']),
  room('audio', ['music', 'sound']),
  room('recognise', ['music', 'ear']),
  room('edit', ['music', 'notate']),
  room('ear', ['music']),
  room('coach', ['music', 'ear', 'parts']),
  room('players', ['music', 'ear']),
  room('words', ['music', 'hands', 'ear', 'coach', 'parts', 'sound', 'patterns']),
)
