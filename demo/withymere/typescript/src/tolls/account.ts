import { Logbook } from '../records/logbook.js';
import { Receipt } from './receipt.js';

type Entry = { readonly day: string; readonly text: string; readonly amount: number };

/** What the owner of one or more craft owes the trust. */
export class Account {
  private readonly entries: Entry[] = [];
  private readonly craft = new Set<string>();
  private nextReceipt = 1;
  private limit = 200;

  constructor(readonly number: string, private readonly folder: string) {}

  addCraft(name: string): void {
    this.craft.add(name);
  }

  owns(name: string): boolean {
    return this.craft.has(name);
  }

  setLimit(amount: number): void {
    if (amount < 0) throw new RangeError('a limit is not below zero');
    this.limit = amount;
  }

  charge(craft: string, text: string, amount: number): void {
    if (!this.craft.has(craft)) throw new Error(`${craft} is not on account ${this.number}`);
    if (this.balance() + amount > this.limit) {
      Logbook.warn('account', `${this.number} is over its limit`);
      throw new Error(`account ${this.number} is over its limit of ${this.limit.toFixed(2)}`);
    }
    this.enter(`${craft}: ${text}`, amount);
  }

  pay(amount: number): string {
    if (amount <= 0) throw new RangeError('a payment is more than nothing');
    this.enter('paid', -amount);
    const receipt = new Receipt(this.nextReceipt, this.folder);
    this.nextReceipt += 1;
    receipt.add(`Account ${this.number}`, amount);
    return receipt.store();
  }

  balance(): number {
    return Math.round(this.entries.reduce((sum, entry) => sum + entry.amount, 0) * 100) / 100;
  }

  /** Everything since a day, with what was owed before it. */
  statement(since: string): string[] {
    const before = this.entries.filter(entry => entry.day < since).reduce((sum, entry) => sum + entry.amount, 0);
    let sum = before;
    const lines = [`Account ${this.number}`, `brought forward ${before.toFixed(2)}`];
    for (const entry of this.entries) {
      if (entry.day < since) continue;
      sum += entry.amount;
      lines.push(`${entry.day} ${entry.text.padEnd(24)} ${entry.amount.toFixed(2).padStart(8)} ${sum.toFixed(2).padStart(8)}`);
    }
    return lines;
  }

  private enter(text: string, amount: number): void {
    const day = new Date().toISOString().slice(0, 10);
    this.entries.push({ day, text, amount });
    Logbook.write('account', `${this.number} ${text} ${amount.toFixed(2)}`);
  }
}
