import reactHooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

// Functions whose results differ between engines; the core has its own.
const UNEQUAL = ['sin', 'cos', 'tan', 'asin', 'acos', 'atan', 'atan2', 'exp', 'expm1', 'log', 'log2', 'log10', 'log1p', 'pow', 'hypot', 'cbrt', 'sinh', 'cosh', 'tanh', 'random']

export default tseslint.config(
  // AssemblyScript decorates functions, which TypeScript's parser does not know.
  { ignores: ['dist', 'node_modules', '.cache', 'test-results', 'playwright-report', 'src/core/kernels/assembly'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-restricted-exports': ['error', { restrictDefaultExports: { direct: true } }],
      'no-eval': 'error',
      'no-implied-eval': 'error',
      eqeqeq: 'error',
    },
  },
  {
    // What has grown past this is taken apart.
    files: ['**/*.{ts,tsx,mjs}'],
    ignores: ['**/*.data.ts'],
    rules: { 'max-lines': ['error', { max: 400 }] },
  },
  {
    files: ['src/**/*.{ts,tsx}', 'server/**/*.ts', 'cli/**/*.ts', 'bench/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'max-lines-per-function': ['error', { max: 120 }] },
  },
  {
    files: ['*.config.{ts,js}', '.*.cjs'],
    rules: { 'no-restricted-exports': 'off' },
  },
  {
    files: ['src/ui/**/*.tsx', 'src/scene/**/*.tsx'],
    plugins: { 'react-hooks': reactHooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['src/core/**/*.ts', 'src/demo/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        ...UNEQUAL.map((property) => ({
          object: 'Math',
          property,
          message: 'Engines disagree on its last bits; take it from core/math.',
        })),
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'performance', 'setTimeout', 'fetch', 'Date', 'localStorage', 'indexedDB'],
      'no-restricted-syntax': [
        'error',
        { selector: "BinaryExpression[operator='**'][right.value!=2][right.value!=3]", message: 'Engines disagree on the last bits of powers.' },
      ],
    },
  },
)
