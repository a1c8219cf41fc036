import next from '@next/eslint-plugin-next';
import hooks from 'eslint-plugin-react-hooks';
import { defineConfig } from 'eslint/config';
import tseslint from 'typescript-eslint';

export default defineConfig(
  { ignores: ['.next/**', 'node_modules/**', 'data/**', 'src/live/generated/**', 'next-env.d.ts', '**/*.as.ts', 'test-results/**'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'max-lines': ['error', { max: 420, skipComments: true, skipBlankLines: true }],
    },
  },
  {
    files: ['src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks, '@next/next': next },
    rules: { ...hooks.configs.recommended.rules, ...next.configs.recommended.rules },
  },
  {
    // What runs for months says what it does in the log.
    files: ['src/server/**/*.ts', 'src/app/**/*.{ts,tsx}', 'scripts/http-server.mjs'],
    ignores: ['src/server/prepare.ts'],
    rules: { 'no-console': 'error' },
  },
  {
    // The audio block loop: what allocates or waits has no place there.
    files: ['src/core/engine/**/*.ts', 'src/core/session/**/*.ts', 'src/live/worklet/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'no-console': 'error', 'no-restricted-globals': ['error', 'fetch', 'setTimeout', 'performance'] },
  },
);
