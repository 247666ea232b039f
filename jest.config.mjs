const shared = {
  setupFiles: ['<rootDir>/packages/host/test/state-folder.mjs'],
  extensionsToTreatAsEsm: ['.ts', '.vue'],
  // Components are tested in a simulated page, but what they are made of is loaded as Node loads it.
  testEnvironmentOptions: { customExportConditions: ['node', 'node-addons'] },
  transform: { '\\.vue$': '<rootDir>/packages/web/test/vue-transform.mjs', '^.+\\.ts$': ['@swc/jest', { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } }] },
  moduleNameMapper: {
    '^@hollowmoor/([a-z]+)/(.+)$': '<rootDir>/packages/$1/src/$2.ts',
    '^(\\.{1,2}/.*)\\.js$': '$1'
  }
}
export default {
  projects: [
    { ...shared, displayName: 'unit', testMatch: ['<rootDir>/packages/*/{src,test}/**/*.test.ts', '<rootDir>/scripts/*.test.mjs'] },
    // The browser tests run the built application, as its users do.
    { ...shared, displayName: 'e2e', testMatch: ['<rootDir>/e2e/**/*.test.ts'] }
  ],
  // Machines that run them may be busy with much else; what hangs, hangs longer than this.
  testTimeout: 600_000
}
