const shared = {
  extensionsToTreatAsEsm: ['.ts'],
  transform: { '^.+\\.ts$': ['@swc/jest', { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } }] },
  moduleNameMapper: {
    '^@hollowmoor/([a-z]+)/(.+)$': '<rootDir>/packages/$1/src/$2.ts',
    '^(\\.{1,2}/.*)\\.js$': '$1'
  }
}
export default {
  projects: [
    { ...shared, displayName: 'unit', testMatch: ['<rootDir>/packages/*/{src,test}/**/*.test.ts'] },
    // The browser tests run the built application, as its users do.
    { ...shared, displayName: 'e2e', testMatch: ['<rootDir>/e2e/**/*.test.ts'] }
  ],
  // Machines that run them may be busy with much else; what hangs, hangs longer than this.
  testTimeout: 600_000
}
