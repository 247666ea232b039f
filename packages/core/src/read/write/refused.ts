/** Why it cannot be done, thrown inside the planning and turned into a refusal at its edge. */
export class Refused extends Error {
  constructor(readonly reason: string, message: string) { super(message) }
}
