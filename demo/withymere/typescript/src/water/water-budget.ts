import { Logbook } from '../records/logbook.js';
import { LevelTable } from './level-table.js';

/** What a day of lockings may cost in water. */
export class WaterBudget {
  private spent = 0;

  constructor(private readonly table: LevelTable, private readonly perDay: number) {}

  spend(reach: string, cubicMetres: number): void {
    if (!this.allows(reach, cubicMetres)) {
      Logbook.warn('budget', `${reach}: ${cubicMetres} m3 refused`);
      throw new Error(`no water for ${reach} today`);
    }
    this.spent += cubicMetres;
  }

  allows(reach: string, cubicMetres: number): boolean {
    const factor = this.table.falling(reach) ? 0.5 : 1;
    return this.spent + cubicMetres <= this.perDay * factor;
  }

  left(): number {
    return Math.max(0, this.perDay - this.spent);
  }

  newDay(): void {
    this.spent = 0;
  }
}
