import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Logbook } from '../records/logbook.js';

export interface ReceiptLine {
  readonly text: string;
  readonly amount: number;
}

/** Adds up, formats and files a receipt. */
export class Receipt {
  private readonly lines: ReceiptLine[] = [];
  private footer = 'Thank you for using the Withymere Navigation.';
  private width = 40;
  private stored = false;

  constructor(readonly number: number, private readonly folder: string) {}

  add(text: string, amount: number): void {
    if (this.stored) throw new Error(`receipt ${this.number} is filed already`);
    this.lines.push({ text, amount });
  }

  total(): number {
    return Math.round(this.lines.reduce((sum, line) => sum + line.amount, 0) * 100) / 100;
  }

  tax(rate: number): number {
    return Math.round(this.total() * rate * 100) / 100;
  }

  setFooter(text: string): void {
    this.footer = text;
  }

  setWidth(columns: number): void {
    this.width = Math.max(20, columns);
  }

  format(): string {
    const row = (text: string, amount: number) => {
      const figure = amount.toFixed(2);
      return text.slice(0, this.width - figure.length - 1).padEnd(this.width - figure.length) + figure;
    };
    return [
      `Receipt ${this.number}`.padStart(this.width),
      ...this.lines.map(line => row(line.text, line.amount)),
      '='.repeat(this.width),
      row('Total', this.total()),
      this.footer,
    ].join('\n');
  }

  store(): string {
    mkdirSync(this.folder, { recursive: true });
    const path = join(this.folder, `receipt-${this.number}.txt`);
    writeFileSync(path, this.format());
    this.stored = true;
    Logbook.write('receipt', `${this.number} filed, ${this.total().toFixed(2)}`);
    return path;
  }
}
