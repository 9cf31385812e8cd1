import next from '@next/eslint-plugin-next';
import prettier from 'eslint-config-prettier';
import hooks from 'eslint-plugin-react-hooks';
import typescript from 'typescript-eslint';

export default typescript.config(
  {
    ignores: [
      'node_modules',
      '.next',
      'dist',
      'data',
      'demo/archive',
      'src/core/kernels/assembly',
      // Written by scripts/build-kernels.mjs.
      'src/core/kernels/bindings.ts',
      'next-env.d.ts',
      'test-results',
      'playwright-report',
    ],
  },
  { files: ['**/*.ts', '**/*.tsx'], extends: [...typescript.configs.recommendedTypeChecked, ...typescript.configs.stylisticTypeChecked] },
  {
    files: ['**/*.ts', '**/*.tsx'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/explicit-module-boundary-types': 'off',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/prefer-nullish-coalescing': 'off',
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true, allowBoolean: true }],
      // An assertion with the type's name says more than a sign.
      '@typescript-eslint/non-nullable-type-assertion-style': 'off',
      '@typescript-eslint/unbound-method': 'off',
      eqeqeq: 'error',
      'no-warning-comments': ['error', { terms: ['todo', 'fixme', 'xxx'] }],
      'max-lines': ['error', { max: 400 }],
    },
  },
  {
    files: ['src/ui/**/*.tsx', 'src/ui/**/*.ts', 'src/app/**/*.tsx'],
    plugins: { 'react-hooks': hooks, '@next/next': next },
    rules: { ...hooks.configs.recommended.rules, ...next.configs.recommended.rules, ...next.configs['core-web-vitals'].rules },
  },
  {
    files: ['src/**/*.ts', 'src/**/*.tsx'],
    rules: { '@typescript-eslint/max-params': ['error', { max: 6 }] },
  },
  prettier,
);
