import withNuxt from './.nuxt/eslint.config.mjs'

const outsideCore = [
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
const room = (name, mayUse) => ({
  files: [`core/${name}/**/*.ts`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          { group: outsideCore, message: 'core/ is free of interface, database and Node.' },
          {
            group: [
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
              .filter(other => other !== name && !mayUse.includes(other))
              .flatMap(other => [`**/${other}/*`, `**/${other}/**`]),
            message: `core/${name} may use only ${mayUse.join(', ') || 'nothing else of core'}.`,
          },
        ],
      },
    ],
  },
})

export default withNuxt(
  { ignores: ['.data/**', '.output/**', 'server/database/migrations/**', 'test-results/**'] },
  {
    rules: {
      'max-len': [
        'error',
        { code: 120, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true, ignoreUrls: true },
      ],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' },
      ],
    },
  },
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
