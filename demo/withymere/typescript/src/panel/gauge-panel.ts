import { DisplayView } from 'sluice-display';
import { LevelTable } from '../water/level-table.js';

export class GaugePanel extends DisplayView {
  constructor(private readonly levels: LevelTable, private readonly rows: number) {
    super();
  }

  protected refresh(): void {
    this.blank();
    this.levels.reaches().slice(0, this.rows).forEach((reach, row) => {
      const level = this.levels.latest(reach) ?? 0;
      const bar = '#'.repeat(Math.max(0, Math.min(20, Math.round(level * 10))));
      this.write(row, `${reach.padEnd(12)} ${level.toFixed(2)} ${bar}${this.levels.falling(reach) ? ' v' : ''}`);
    });
  }
}
