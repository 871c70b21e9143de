import js from '@eslint/js';
import tseslint from 'typescript-eslint';
import hooks from 'eslint-plugin-react-hooks';
import a11y from 'eslint-plugin-jsx-a11y';

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
    files: ['**/*.mjs', '**/*.cjs'],
    languageOptions: {
      globals: {
        module: 'readonly',
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
    // A promise that nobody waits for swallows its error.
    files: ['{core,contract,server,web,fieldsim,bench}/src/**/*.{ts,tsx}'],
    ignores: ['**/*.test.ts'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: { '@typescript-eslint/no-floating-promises': 'error' },
  },
  {
    files: ['web/**/*.tsx'],
    ...a11y.flatConfigs.recommended,
    rules: {
      ...a11y.flatConfigs.recommended.rules,
      // A dialog opens where somebody has asked for it; the first field is where the hand already is.
      'jsx-a11y/no-autofocus': 'off',
      // Arrow keys in a list or a grid of fields are handled where they bubble up to.
      'jsx-a11y/no-noninteractive-element-interactions': [
        'error',
        { handlers: ['onClick', 'onMouseDown', 'onMouseUp'] },
      ],
    },
  },
  {
    // Only the series know how samples, rollups and counters lie in the database.
    files: ['server/src/**/*.ts'],
    ignores: ['server/src/series/**', 'server/src/database/migrations/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...['Literal[value=%]', 'TemplateElement[value.raw=%]'].map((node) => ({
          selector: node.replace(
            '%',
            '/(FROM|INTO|UPDATE|JOIN|TABLE)\\s+`?(samples|rollup_\\w+|counter_\\w+|doubts|verdicts)\\b/i',
          ),
          message: 'Samples, rollups, counters and verdicts are the business of server/src/series.',
        })),
      ],
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
