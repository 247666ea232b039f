import { DisplayView } from 'sluice-display';
import { LockFlight } from '../locks/lock-flight.js';
import { Logbook } from '../records/logbook.js';
import { LevelTable } from '../water/level-table.js';

/** The panel beside a flight: says whether its gate may open. */
export class LockPanel extends DisplayView {
  private mayOpen = false;
  private since = 0;

  constructor(private readonly flight: LockFlight, private readonly levels: LevelTable) {
    super();
  }

  protected refresh(tick: number): void {
    const level = this.levels.latest(this.flight.reach);
    let reason = '';
    let allowed = true;
    if (!this.flight.isOpen()) {
      allowed = false;
      reason = 'closed';
    } else if (!this.flight.canWork()) {
      allowed = false;
      reason = 'no keeper or no water';
    } else if (level === undefined) {
      allowed = false;
      reason = 'no gauge';
    } else if (level < 0.6 || level > 2.4) {
      allowed = false;
      reason = `level ${level.toFixed(2)}`;
    } else if (this.levels.falling(this.flight.reach) && level < 1) {
      allowed = false;
      reason = 'falling';
    }
    if (allowed !== this.mayOpen) {
      this.since = tick;
      Logbook.write('panel', `${this.flight.name}: ${allowed ? 'gate may open' : reason}`);
    }
    this.mayOpen = allowed;
    this.write(0, this.flight.name);
    this.write(1, allowed ? 'GATE MAY OPEN' : `WAIT: ${reason}`);
    this.write(2, `for ${tick - this.since} s, ${this.flight.keeperName()}`);
  }

  gateMayOpen(): boolean {
    return this.mayOpen;
  }
}
