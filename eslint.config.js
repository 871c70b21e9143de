import js from '@eslint/js';
import tseslint from 'typescript-eslint';
import hooks from 'eslint-plugin-react-hooks';

// The floors: imports go down only (docs/architecture.md). Each floor says what it may not reach.
const floor = (files, patterns, message) => ({
  files,
  rules: { 'no-restricted-imports': ['error', { patterns: [{ group: patterns, message }] }] },
});

export default tseslint.config(
  { ignores: ['**/node_modules', '**/dist', 'var', 'test-results', 'playwright-report'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'off',
      eqeqeq: ['error', 'smart'],
      'no-console': 'off',
    },
  },
  {
    files: ['**/*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        setInterval: 'readonly',
        fetch: 'readonly',
        setTimeout: 'readonly',
        document: 'readonly',
        requestAnimationFrame: 'readonly',
        clearTimeout: 'readonly',
        AbortSignal: 'readonly',
        URL: 'readonly',
      },
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  floor(
    ['core/src/**/*.ts'],
    ['@loka/*', 'node:*', 'fs', 'net', 'react', '@nestjs/*'],
    'core is pure: it imports nothing but small numeric and zone libraries',
  ),
  floor(
    ['contract/src/**/*.ts'],
    ['@loka/server/*', '@loka/web/*', '@loka/fieldsim/*', 'node:*'],
    'contract may import core only',
  ),
  floor(
    ['server/src/**/*.ts'],
    ['@loka/fieldsim/*', '@loka/web/*'],
    'the server knows nothing of the building or of the screens',
  ),
  floor(
    ['web/src/**/*.{ts,tsx}'],
    ['@loka/server/*', '@loka/fieldsim/*', 'node:*'],
    'the screens reach the server over the wire only',
  ),
  floor(
    ['fieldsim/src/**/*.ts'],
    ['@loka/server/*', '@loka/web/*', '@loka/contract/*'],
    'the building knows nothing of Loka',
  ),
);
