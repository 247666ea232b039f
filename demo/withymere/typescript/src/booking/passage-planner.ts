import { Direction, LockFlight } from '../locks/lock-flight.js';
import { Logbook } from '../records/logbook.js';
import { PassageDesk } from './passage-desk.js';
import { PassageRequest } from './passage-request.js';

interface Slot {
  readonly start: number;
  readonly minutes: number;
  readonly craft: string;
}

/** Puts requests into the day so that the flight turns as seldom as it can. */
export class PassagePlanner {
  private readonly slots: Slot[] = [];

  constructor(private readonly desk: PassageDesk) {}

  plan(requests: readonly PassageRequest[], flight: LockFlight): Slot[] {
    if (!flight.isOpen()) return [];
    const up = requests.filter(request => request.direction === Direction.Up);
    const down = requests.filter(request => request.direction === Direction.Down);
    const batches = flight.heading() === Direction.Up ? [up, down] : [down, up];
    let at = Date.now();
    for (const batch of batches) {
      for (const request of batch) {
        if (!flight.takes(request.craft.size)) continue;
        const minutes = this.minutesFor(flight, request);
        this.slots.push({ start: at, minutes, craft: request.craft.name });
        at += minutes * 60 * 1000;
      }
    }
    Logbook.write('planner', `${this.slots.length} slots for ${flight.name}`);
    return this.slots;
  }

  private minutesFor(flight: LockFlight, request: PassageRequest): number {
    const slow = request.craft.speed() < 3 ? 1.5 : 1;
    return Math.ceil(flight.count() * 12 * slow + this.desk.delay(flight.name));
  }
}
