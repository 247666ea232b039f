import { Notice } from './notice.js';
import { Severity } from './severity.js';

export class StoppageNotice extends Notice {
  constructor(reach: string, readonly from: string, readonly until: string) {
    super(Severity.Watch, reach);
  }

  headline(): string {
    return `Closed from ${this.from} until ${this.until}`;
  }
}
