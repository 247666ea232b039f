import tseslint from 'typescript-eslint'
export default tseslint.config(
  { ignores: ['**/dist/**', 'demo/**', '**/*.vue'] },
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      eqeqeq: 'error', 'no-console': 'error', 'prefer-const': 'error'
    }
  },
  { files: ['scripts/**', 'packages/cli/**', 'e2e/**'], rules: { 'no-console': 'off' } }
)
