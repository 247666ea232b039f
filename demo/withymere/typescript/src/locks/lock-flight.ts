import { Dimensions, fits } from '../craft/dimensions.js';
import { Logbook } from '../records/logbook.js';
import { LevelTable } from '../water/level-table.js';
import { WaterBudget } from '../water/water-budget.js';
import { Lock } from './lock.js';
import { LockKeeper } from './lock-keeper.js';

export enum Direction {
  Up = 'up',
  Down = 'down',
}

/** A staircase of locks that is worked as one. */
export class LockFlight {
  private readonly locks: Lock[] = [];
  private keeper: LockKeeper | null = null;
  private direction = Direction.Up;
  private closedUntil = 0;
  private passages = 0;

  constructor(readonly name: string, readonly reach: string, private readonly budget: WaterBudget, private readonly levels: LevelTable) {}

  build(count: number, chamber: Dimensions): void {
    for (let number = 1; number <= count; number += 1) this.locks.push(new Lock(number, chamber, this));
  }

  lockAt(number: number): Lock | undefined {
    return this.locks.find(lock => lock.number === number);
  }

  count(): number {
    return this.locks.length;
  }

  smallest(): Dimensions {
    const [first] = this.locks;
    if (!first) throw new Error(`${this.name} has no locks`);
    return this.locks.reduce((least, lock) => (lock.chamber.length < least.length ? lock.chamber : least), first.chamber);
  }

  takes(size: Dimensions): boolean {
    return fits(size, this.smallest());
  }

  waterFor(locks: number): number {
    return this.locks.slice(0, locks).reduce((sum, lock) => sum + lock.volume(), 0);
  }

  canWork(): boolean {
    return this.isOpen() && this.keeper !== null && this.budget.allows(this.reach, this.waterFor(1));
  }

  isOpen(): boolean {
    return Date.now() >= this.closedUntil;
  }

  closeFor(hours: number): void {
    this.closedUntil = Date.now() + hours * 3600 * 1000;
    Logbook.warn('flight', `${this.name} closed for ${hours} h`);
  }

  reopen(): void {
    this.closedUntil = 0;
    Logbook.write('flight', `${this.name} open again`);
  }

  assign(keeper: LockKeeper): void {
    this.keeper = keeper;
    Logbook.write('flight', `${keeper.name} keeps ${this.name}`);
  }

  relieve(): LockKeeper | null {
    const relieved = this.keeper;
    this.keeper = null;
    return relieved;
  }

  keeperName(): string {
    return this.keeper?.name ?? 'nobody';
  }

  turn(to: Direction): boolean {
    if (this.direction === to) return false;
    this.direction = to;
    return true;
  }

  heading(): Direction {
    return this.direction;
  }

  levelAbove(): number | undefined {
    return this.levels.latest(this.reach);
  }

  waitingTime(queue: number): number {
    const each = this.locks.length * 12;
    return queue * each + (this.levels.falling(this.reach) ? each : 0);
  }

  async pass(size: Dimensions, direction: Direction): Promise<void> {
    if (!this.takes(size)) throw new Error(`too large for ${this.name}`);
    if (!this.canWork()) throw new Error(`${this.name} cannot be worked now`);
    this.budget.spend(this.reach, this.waterFor(this.locks.length));
    this.turn(direction);
    const order = direction === Direction.Down ? this.locks : [...this.locks].reverse();
    for (const lock of order) await lock.letIn(direction === Direction.Down);
    this.passages += 1;
    Logbook.write('flight', `${this.name}: passage ${this.passages}`);
  }

  passed(): number {
    return this.passages;
  }

  summary(): string {
    return `${this.name}: ${this.count()} locks, ${this.keeperName()}, ${this.isOpen() ? 'open' : 'closed'}, ${this.passages} passages`;
  }
}
