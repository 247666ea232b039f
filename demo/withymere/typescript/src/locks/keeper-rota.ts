import { Logbook } from '../records/logbook.js';
import { LockFlight } from './lock-flight.js';
import { LockKeeper } from './lock-keeper.js';

export class KeeperRota {
  private readonly keepers: LockKeeper[] = [];
  private next = 0;

  hire(keeper: LockKeeper): void {
    this.keepers.push(keeper);
  }

  fill(flights: readonly LockFlight[]): number {
    let filled = 0;
    for (const flight of flights) {
      const keeper = this.take();
      if (!keeper) {
        Logbook.alarm('rota', `nobody for ${flight.name}`);
        break;
      }
      flight.assign(keeper);
      filled += 1;
    }
    return filled;
  }

  size(): number {
    return this.keepers.length;
  }

  private take(): LockKeeper | undefined {
    for (let tried = 0; tried < this.keepers.length; tried += 1) {
      const keeper = this.keepers[(this.next + tried) % this.keepers.length]!;
      if (keeper.available()) {
        this.next = (this.next + tried + 1) % this.keepers.length;
        return keeper;
      }
    }
    return undefined;
  }
}
