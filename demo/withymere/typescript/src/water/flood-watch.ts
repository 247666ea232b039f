import { Logbook } from '../records/logbook.js';
import { LevelTable, sharedLevels } from './level-table.js';
import { Rainfall } from './rainfall.js';

export type FloodState = 'calm' | 'watch' | 'stop';

export interface FloodLimits {
  readonly watch: number;
  readonly stop: number;
}

/** Says by levels and rain whether craft should stay where they are. */
export class FloodWatch {
  private readonly levels: LevelTable = sharedLevels;
  private readonly limits = new Map<string, FloodLimits>();
  private readonly told = new Map<string, FloodState>();
  readonly rain = new Rainfall();

  setLimits(reach: string, limits: FloodLimits): void {
    if (limits.stop <= limits.watch) throw new RangeError(`the limits of ${reach} are the wrong way round`);
    this.limits.set(reach, limits);
  }

  state(reach: string): FloodState {
    const limits = this.limits.get(reach);
    const level = this.levels.latest(reach);
    if (!limits || level === undefined) return 'calm';
    const expected = level + this.rise();
    if (level >= limits.stop || expected >= limits.stop * 1.1) return 'stop';
    return expected >= limits.watch ? 'watch' : 'calm';
  }

  /** Metres by which wet ground will lift the water within a day. */
  rise(): number {
    const wetness = this.rain.wetness();
    if (wetness < 15) return 0;
    return Math.round(Math.min(0.6, (wetness - 15) * 0.01) * 100) / 100;
  }

  /** Looks at every reach, and tells of those whose state is another than at the last look. */
  look(): string[] {
    const changed: string[] = [];
    for (const reach of [...this.limits.keys()].sort()) {
      const state = this.state(reach);
      if (state === (this.told.get(reach) ?? 'calm')) continue;
      this.told.set(reach, state);
      changed.push(`${reach}: ${state}`);
      if (state === 'stop') Logbook.alarm('flood', `${reach} is closed`);
      else Logbook.write('flood', `${reach} is ${state}`);
    }
    return changed;
  }

  closed(): string[] {
    return [...this.limits.keys()].filter(reach => this.state(reach) === 'stop').sort();
  }
}
