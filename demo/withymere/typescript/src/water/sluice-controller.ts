import { Logbook } from '../records/logbook.js';
import { LevelTable } from './level-table.js';

export class SluiceController {
  private open = 0;

  constructor(private readonly table: LevelTable, private readonly reach: string, private readonly steps: number) {}

  adjust(target: number): number {
    const level = this.table.mean(this.reach, 5) ?? target;
    const error = target - level;
    const wanted = Math.round(error * 20);
    const next = Math.min(this.steps, Math.max(0, this.open + wanted));
    if (next !== this.open) Logbook.write('sluice', `${this.reach}: ${this.open} to ${next}`);
    this.open = next;
    return next;
  }

  position(): number {
    return this.open;
  }

  /** Drops everything to let a flood through. */
  flood(): void {
    this.open = this.steps;
    Logbook.alarm('sluice', `${this.reach}: fully open`);
  }
}
