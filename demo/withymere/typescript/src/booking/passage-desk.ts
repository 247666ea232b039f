import { Frame, MastLink } from 'signal-kit';
import { FleetRegister } from '../craft/fleet-register.js';
import { LockFlight } from '../locks/lock-flight.js';
import { KeeperRota } from '../locks/keeper-rota.js';
import { LowWaterNotice } from '../notices/low-water-notice.js';
import { NoticeBoard } from '../notices/notice-board.js';
import { LedgerBook } from '../records/ledger-book.js';
import { Logbook } from '../records/logbook.js';
import { PassageLog } from '../records/passage-log.js';
import { Receipt } from '../tolls/receipt.js';
import { TollCalculator } from '../tolls/toll-calculator.js';
import { LevelTable } from '../water/level-table.js';
import { WaterBudget } from '../water/water-budget.js';
import { PassagePlanner } from './passage-planner.js';
import { PassageRequest, RequestRefused } from './passage-request.js';
import { Queue } from './queue.js';

/** Takes bookings, works the queue and settles the tolls. */
export class PassageDesk {
  private readonly calculator = new TollCalculator();
  private readonly planner = new PassagePlanner(this);
  private readonly delays = new Map<string, number>();
  private receiptNumber = 1000;
  private lastRadio = 0;

  constructor(
    private readonly queue: Queue,
    private readonly flights: readonly LockFlight[],
    private readonly register: FleetRegister,
    private readonly rota: KeeperRota,
    private readonly board: NoticeBoard,
    private readonly ledger: LedgerBook,
    private readonly log: PassageLog,
    private readonly budget: WaterBudget,
    private readonly levels: LevelTable,
    private readonly receiptFolder: string,
    private readonly mast: MastLink,
  ) {}

  book(request: PassageRequest): number {
    const flight = this.flightNamed(request.flight);
    if (!flight.isOpen()) throw new RequestRefused(request, `${flight.name} is closed`);
    if (!flight.takes(request.craft.size)) throw new RequestRefused(request, `too large for ${flight.name}`);
    if (request.wantedAt < Date.now() - 60_000) throw new RequestRefused(request, 'that time is over');
    this.register.find(request.craft.name);
    const place = this.queue.join(request);
    Logbook.write('desk', `${request.craft.name} booked, place ${place}`);
    return place;
  }

  cancel(craft: string): boolean {
    const left = this.queue.leave(craft);
    if (left) Logbook.write('desk', `${craft} cancelled`);
    return left;
  }

  pending(): number {
    return this.queue.length();
  }

  planDay(flightName: string): number {
    const flight = this.flightNamed(flightName);
    this.rota.fill([flight]);
    return this.planner.plan(this.queue.forFlight(flightName), flight).length;
  }

  async workNext(): Promise<string | null> {
    const request = this.queue.next();
    if (!request) return null;
    const flight = this.flightNamed(request.flight);
    const toll = this.calculator.tollFor(request.craft, flight.count());
    if (!this.budget.allows(flight.reach, flight.waterFor(flight.count()))) {
      this.queue.join({ ...request, wantedAt: Date.now() + 3600_000 });
      Logbook.warn('desk', `${request.craft.name} waits for water`);
      return null;
    }
    await flight.pass(request.craft.size, request.direction);
    this.settle(request, toll, flight);
    await this.radio(flight, `${request.craft.name} is through`);
    return request.craft.name;
  }

  lowWater(reach: string, level: number, floor: number): void {
    const notice = new LowWaterNotice(reach, level, floor);
    this.board.pin(notice);
    for (const flight of this.flights.filter(one => one.reach === reach)) {
      this.delays.set(flight.name, (this.delays.get(flight.name) ?? 0) + 20);
      if (level < floor / 2) flight.closeFor(6);
    }
  }

  delay(flight: string): number {
    return this.delays.get(flight) ?? 0;
  }

  expectedWait(flightName: string): number {
    const flight = this.flightNamed(flightName);
    const low = (this.levels.latest(flight.reach) ?? 2) < 1;
    return flight.waitingTime(this.queue.forFlight(flightName).length) + (low ? 30 : 0) + this.delay(flightName);
  }

  private settle(request: PassageRequest, toll: number, flight: LockFlight): void {
    this.receiptNumber += 1;
    const receipt = new Receipt(this.receiptNumber, this.receiptFolder);
    receipt.add(`${request.craft.name}, ${flight.count()} locks`, toll);
    receipt.store();
    this.ledger.credit('tolls', receipt.total(), request.craft.name);
    this.log.add({ craft: request.craft.name, flight: flight.name, booked: request.wantedAt, toll: receipt.total() });
  }

  private async radio(flight: LockFlight, text: string): Promise<void> {
    const now = Date.now();
    if (now - this.lastRadio < 500) return;
    this.lastRadio = now;
    try {
      await this.mast.send(new Frame(5, 'desk').append('flight', flight.name).append('text', text));
    } catch {
      Logbook.warn('desk', 'the mast does not answer');
    }
  }

  private flightNamed(name: string): LockFlight {
    const flight = this.flights.find(one => one.name === name);
    if (!flight) throw new Error(`there is no flight ${name}`);
    return flight;
  }
}
