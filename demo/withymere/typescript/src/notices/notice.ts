import { Severity } from './severity.js';

export abstract class Notice {
  constructor(readonly severity: Severity, readonly reach: string) {}

  abstract headline(): string;

  body(): string {
    return `${this.headline()} (${this.reach})`;
  }
}
