export default {
  // Its build for older loaders comes first in its package; the sources are ES modules.
  moduleNameMapper: { '^three-mesh-bvh$': '<rootDir>/node_modules/three-mesh-bvh/src/index.js' },
  roots: ['<rootDir>/src', '<rootDir>/server', '<rootDir>/cli'],
  testMatch: ['**/*.test.ts'],
  transform: { '^.+\\.tsx?$': '<rootDir>/scripts/jest-transform.mjs' },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  setupFiles: ['fake-indexeddb/auto'],
  testTimeout: 180000,
  maxWorkers: 2,
}
