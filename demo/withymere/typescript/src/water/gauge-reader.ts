import { PassageDesk } from '../booking/passage-desk.js';
import { Logbook } from '../records/logbook.js';
import { LevelTable } from './level-table.js';

export interface Gauge {
  readonly reach: string;
  readonly floor: number;
  read(): number;
}

/** Reads the gauges and tells the desk when a reach runs low. */
export class GaugeReader {
  private readonly low = new Set<string>();

  constructor(private readonly gauges: readonly Gauge[], private readonly table: LevelTable, private readonly desk: PassageDesk) {}

  sweep(): number {
    let alarms = 0;
    for (const gauge of this.gauges) {
      const level = gauge.read();
      if (Number.isNaN(level)) {
        Logbook.alarm('gauge', `${gauge.reach} does not answer`);
        continue;
      }
      this.table.record(gauge.reach, level);
      if (level < gauge.floor && !this.low.has(gauge.reach)) {
        this.low.add(gauge.reach);
        this.desk.lowWater(gauge.reach, level, gauge.floor);
        alarms += 1;
      } else if (level >= gauge.floor) {
        this.low.delete(gauge.reach);
      }
    }
    return alarms;
  }

  lowReaches(): string[] {
    return [...this.low].sort();
  }
}
