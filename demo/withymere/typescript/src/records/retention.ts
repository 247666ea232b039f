import { Logbook } from './logbook.js';
import { PassageEntry, PassageLog } from './passage-log.js';

/** Which entries the trust has to keep, and for how long. */
export class Retention {
  constructor(private readonly log: PassageLog, private readonly years: number) {}

  due(): PassageEntry[] {
    const limit = Date.now() - this.years * 365 * 24 * 3600 * 1000;
    const due = this.log.between(0, limit);
    if (due.length > 0) Logbook.write('retention', `${due.length} entries may go`);
    return due;
  }
}
