import hooks from 'eslint-plugin-react-hooks'
import typescript from 'typescript-eslint'

// What the compiler does not see: hooks that are called in another order, effects that forget what they read, code that
// does nothing. How code looks is prettier's.
export default typescript.config(
  { ignores: ['src/**/*.gen.ts', 'dist', 'kernel', 'node_modules', 'public'] },
  ...typescript.configs.recommended,
  {
    plugins: { 'react-hooks': hooks },
    linterOptions: { reportUnusedDisableDirectives: 'error' },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-expressions': ['error', { allowShortCircuit: true, allowTernary: true }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
    },
  },
)
