import tseslint from 'typescript-eslint';
import hooks from 'eslint-plugin-react-hooks';

// Arrows point one way inside the core: a folder may import from those before it, never from those after it and never from
// one on its own level.
const LEVELS = [
  ['geometry'],
  ['drawing'],
  ['parameters'],
  ['text'],
  ['formats'],
  ['analysis'],
  ['tracing'],
  ['parts'],
  ['checks', 'steps', 'scene'],
  ['pages'],
  ['intake', 'yardsticks'],
  ['delivery'],
  ['sets'],
  ['witness'],
  ['proof'],
  ['report'],
  ['schemas'],
];

const arrows = LEVELS.flatMap((level, i) => {
  const later = LEVELS.slice(i + 1).flat();
  if (later.length === 0) return [];
  return level.map((folder) => ({
    files: [`core/src/${folder}/**/*.ts`],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: [...later, ...level.filter((f) => f !== folder)].map((f) => `**/${f}/**`),
              message: `${folder}/ comes before these or stands beside them: arrows point one way (docs/architecture.md).`,
            },
            { group: ['node:*', 'react', 'express'], message: 'The core knows no host and no interface.' },
          ],
        },
      ],
    },
  }));
});

/** Within the formats: what drafting files share stands below them, and no format knows another. */
const FORMATS = ['dxf', 'dwg', 'svg'];
const formats = ['drafting', ...FORMATS].map((folder) => ({
  files: [`core/src/formats/${folder}/**/*.ts`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: FORMATS.filter((f) => f !== folder).map((f) => `../${f}/**`),
            message: `formats/${folder}/ knows no other format (docs/architecture.md).`,
          },
          {
            group: LEVELS.slice(LEVELS.findIndex((l) => l.includes('formats')) + 1)
              .flat()
              .map((f) => `**/${f}/**`),
            message: 'formats/ comes before these: arrows point one way (docs/architecture.md).',
          },
          { group: ['node:*', 'react', 'express'], message: 'The core knows no host and no interface.' },
        ],
      },
    ],
  },
}));

const between = [
  [['core'], ['@scalaria/server', '@scalaria/web', '@scalaria/cli', '@scalaria/demo']],
  [['server'], ['@scalaria/web', '@scalaria/cli', '@scalaria/demo', 'react', 'react-*']],
  [['web'], ['@scalaria/server', '@scalaria/cli', 'express', 'node:*']],
  [['cli'], ['@scalaria/server', '@scalaria/web', 'react', 'express']],
].map(([folders, group]) => ({
  files: folders.map((f) => `${f}/src/**/*.{ts,tsx}`),
  ignores: LEVELS.flat().map((f) => `core/src/${f}/**`),
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: [{ group, message: 'Arrows point one way between packages (docs/architecture.md).' }] },
    ],
  },
}));

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      'server/migrations/**',
      'server/drizzle.config.ts',
      '**/*.config.*',
      'test-results/**',
      'data/**',
    ],
  },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-unused-expressions': 'off',
      '@typescript-eslint/no-non-null-assertion': 'off',
    },
  },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'warn' },
  },
  {
    files: ['**/*.mjs', '**/*.js'],
    languageOptions: {
      globals: { process: 'readonly', console: 'readonly', URL: 'readonly', setTimeout: 'readonly', fetch: 'readonly' },
    },
  },
  ...arrows,
  ...formats,
  ...between,
);
