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
  {
    files: ['src/**/*.{ts,tsx}'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...['Identifier[name=/^document$/]', 'MemberExpression[property.name="document"]'].map((what) => ({
          selector: `ObjectExpression > SpreadElement > ${what}`,
          message: 'Documents are made by the server: say what changes in words (bench.amend).',
        })),
      ],
    },
  },
)
