import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

/** Rooms of the engine in the order in which data flows through them; each imports only from those before it. */
const ROOMS = [
  'work',
  'table',
  'read',
  'search',
  'expression',
  'condition',
  'order',
  'key',
  'edit',
  'check',
  'pending',
  'summary',
  'group',
  'layout',
  'flow',
  'selection',
  'export',
  'question',
  'definition',
  'words',
  'source',
  'service',
  'worker',
]

const forbid = (patterns, message) => ({
  'no-restricted-imports': ['error', { patterns: [{ regex: patterns.join('|'), message }] }],
})

const rooms = ROOMS.map((room, i) => ({
  files: [`packages/engine/src/${room}/**/*.ts`],
  rules: forbid(
    ['^node:', '^@vast-meadow/', '^vue', ...ROOMS.slice(i + 1).map(later => `^(\\.\\./)+${later}/`)],
    `Imports run downwards only: "${room}" comes before that room. See CONTRIBUTING.md.`,
  ),
}))

const OUTSIDE_GRID = ['^node:', '^vue', '^@vast-meadow/(vue|workshop)', 'engine/src']

export default ts.config(
  {
    ignores: [
      '**/dist/**',
      '**/.nuxt/**',
      '**/.output/**',
      '**/node_modules/**',
      '.cache/**',
      'bench/node_modules/**',
    ],
  },
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    languageOptions: { parserOptions: { parser: ts.parser } },
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/consistent-type-imports': [
        'error',
        { fixStyle: 'inline-type-imports', disallowTypeAnnotations: false },
      ],
      eqeqeq: 'error',
      'no-undef': 'off',
      'vue/multi-word-component-names': 'off',
      // What is said stands in `workshop/app/words`; signs say nothing.
      'vue/no-bare-strings-in-template': [
        'error',
        { allowlist: ['×', '✕', '↑', '↓', '▾', '·', '–', ',', '.', ':', '(', ')', '%', '“', '”'] },
      ],
      'vue/require-default-prop': 'off',
    },
  },
  {
    files: ['packages/*/src/**/*.ts'],
    extends: [...ts.configs.strictTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/restrict-template-expressions': [
        'error',
        { allowNumber: true, allowBoolean: true },
      ],
      '@typescript-eslint/restrict-plus-operands': ['error', { allowNumberAndString: true }],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      // Reading an array past its end is not told by types here, so that looking whether something came is no mistake.
      '@typescript-eslint/no-unnecessary-condition': 'off',
    },
  },
  ...rooms,
  {
    files: ['packages/grid/src/**/*.ts'],
    rules: forbid(OUTSIDE_GRID, 'The grid imports the engine only, by its package name.'),
  },
  {
    files: ['packages/grid/src/{kernel,band,body,cell,header,look}/**/*.ts'],
    rules: forbid(
      [...OUTSIDE_GRID, '/features/', '/grid\\.ts$'],
      'The kernel and what it draws know no feature.',
    ),
  },
  {
    files: ['packages/grid/src/features/*/**/*.ts'],
    rules: forbid(
      [...OUTSIDE_GRID, '^\\.\\./(?!\\.)', '/grid\\.ts$'],
      'A feature is made from the kernel alone and imports no other.',
    ),
  },
  {
    files: ['packages/{vue,react}/src/**/*.{ts,tsx}'],
    rules: forbid(
      ['^node:', '^@vast-meadow/workshop', '/src/'],
      'Packages for frameworks import engine and grid by their package names.',
    ),
  },
  {
    files: ['packages/server/src/**/*.ts'],
    rules: forbid(
      ['^vue', '^@vast-meadow/', '/engine/src'],
      'The server stands on its own: it shares a protocol with the engine, no code.',
    ),
  },
  {
    files: ['workshop/**/*.{ts,vue}'],
    rules: forbid(['packages/'], 'The workshop imports the packages by their names.'),
  },
  {
    files: ['e2e/**/*.ts'],
    rules: forbid(
      ['^@vast-meadow/(?!server)', 'packages/', 'workshop/'],
      'End-to-end tests drive the interface; they import nothing of it. A host’s own server they may start.',
    ),
  },
  prettier,
)
