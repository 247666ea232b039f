import { LedgerBook } from '../records/ledger-book.js';
import { PassageLog } from '../records/passage-log.js';
import { Receipt } from '../tolls/receipt.js';

/** Takes tolls from crews who come to the office. */
export class TollWindow {
  private number = 5000;

  constructor(private readonly ledger: LedgerBook, private readonly log: PassageLog, private readonly folder: string) {}

  sellPassage(craft: string, flight: string, toll: number): number {
    this.number += 1;
    const receipt = new Receipt(this.number, this.folder);
    receipt.add(`${craft}, one passage`, toll);
    receipt.store();
    this.ledger.credit('tolls', receipt.total(), craft);
    this.log.add({ craft, flight, booked: Date.now(), toll: receipt.total() });
    return this.number;
  }

  /** There and back within the week, for nine tenths. */
  sellReturn(craft: string, flight: string, toll: number): number {
    this.number += 1;
    const receipt = new Receipt(this.number, this.folder);
    receipt.add(`${craft}, there and back`, toll * 1.8);
    receipt.store();
    this.ledger.credit('tolls', receipt.total(), craft);
    this.log.add({ craft, flight, booked: Date.now(), toll: receipt.total() });
    return this.number;
  }
}
