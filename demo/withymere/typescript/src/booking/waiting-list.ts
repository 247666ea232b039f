import { Logbook } from '../records/logbook.js';
import { sharedLevels } from '../water/level-table.js';
import { PassageRequest } from './passage-request.js';
import { Queue } from './queue.js';

/** Holds requests back while a reach is low, and lets them into the queue again. */
export class WaitingList {
  private readonly held: PassageRequest[] = [];

  constructor(private readonly queue: Queue, private readonly reachOf: (flight: string) => string) {}

  offer(request: PassageRequest): boolean {
    const level = sharedLevels.latest(this.reachOf(request.flight));
    if (level !== undefined && level < 0.8) {
      this.held.push(request);
      Logbook.write('waiting', `${request.craft.name} held back`);
      return false;
    }
    this.queue.join(request);
    return true;
  }

  release(): number {
    const ready = this.held.filter(request => (sharedLevels.latest(this.reachOf(request.flight)) ?? 2) >= 0.8);
    for (const request of ready) {
      this.held.splice(this.held.indexOf(request), 1);
      this.queue.join(request);
    }
    return ready.length;
  }

  size(): number {
    return this.held.length;
  }
}
