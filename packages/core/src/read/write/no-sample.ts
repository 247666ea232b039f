/** Why there is no sample of a type for a test; its message begins with what was wanted. */
export class NoSample extends Error {}
