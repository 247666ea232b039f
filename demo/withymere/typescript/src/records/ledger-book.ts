import { Logbook } from './logbook.js';

interface Posting {
  readonly account: string;
  readonly amount: number;
  readonly reason: string;
}

export class LedgerBook {
  private readonly postings: Posting[] = [];

  credit(account: string, amount: number, reason: string): void {
    this.post(account, amount, reason);
  }

  debit(account: string, amount: number, reason: string): void {
    this.post(account, -amount, reason);
  }

  balance(account: string): number {
    const sum = this.postings.filter(posting => posting.account === account).reduce((total, posting) => total + posting.amount, 0);
    return Math.round(sum * 100) / 100;
  }

  accounts(): string[] {
    return [...new Set(this.postings.map(posting => posting.account))].sort();
  }

  statement(account: string): string {
    const rows = this.postings
      .filter(posting => posting.account === account)
      .map(posting => `${posting.amount.toFixed(2).padStart(10)}  ${posting.reason}`);
    return [`Account ${account}`, ...rows, `${this.balance(account).toFixed(2).padStart(10)}  balance`].join('\n');
  }

  private post(account: string, amount: number, reason: string): void {
    if (!Number.isFinite(amount)) throw new RangeError(`no amount: ${amount}`);
    this.postings.push({ account, amount, reason });
    if (Math.abs(amount) > 500) Logbook.warn('ledger', `${account}: ${amount.toFixed(2)} for ${reason}`);
  }
}
