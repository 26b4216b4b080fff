export default {
  roots: ['<rootDir>/src', '<rootDir>/server'],
  testMatch: ['**/*.test.ts'],
  transform: { '^.+\\.tsx?$': '<rootDir>/scripts/jest-transform.mjs' },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  setupFiles: ['fake-indexeddb/auto'],
  testTimeout: 60000,
  maxWorkers: 2,
}
