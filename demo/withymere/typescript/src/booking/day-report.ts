import { LedgerBook } from '../records/ledger-book.js';
import { PassageLog } from '../records/passage-log.js';
import { PassageDesk } from './passage-desk.js';

/** What the office prints at closing time. */
export class DayReport {
  constructor(private readonly desk: PassageDesk, private readonly log: PassageLog, private readonly ledger: LedgerBook) {}

  text(): string {
    const day = new Date().toISOString().slice(0, 10);
    const from = Date.parse(day);
    const passages = this.log.between(from, from + 24 * 3600 * 1000);
    return [
      `Withymere Navigation, ${day}`,
      `${passages.length} passages, ${this.desk.pending()} waiting`,
      `busiest: ${this.log.busiestFlight() ?? 'none'}`,
      this.ledger.statement('tolls'),
    ].join('\n');
  }
}
