import { Logbook } from '../records/logbook.js';
import { CraftKind } from './craft-kind.js';

const DAY = 24 * 60 * 60 * 1000;

/** What a craft needs to be on the navigation: paid for, and inspected now and then. */
export class Licence {
  private lastInspection: Date | null = null;
  private faults: string[] = [];
  private withdrawn = false;

  constructor(readonly craft: string, readonly kind: CraftKind, private readonly from: Date, private readonly months: number) {}

  expires(): Date {
    const end = new Date(this.from);
    end.setMonth(end.getMonth() + this.months);
    return end;
  }

  valid(): boolean {
    const now = new Date();
    if (this.withdrawn || now < this.from || now >= this.expires()) return false;
    return this.faults.length === 0 || !this.overdue();
  }

  daysLeft(): number {
    return Math.max(0, Math.floor((this.expires().getTime() - Date.now()) / DAY));
  }

  /** Years between two inspections. */
  interval(): number {
    switch (this.kind) {
      case CraftKind.HireBoat: return 1;
      case CraftKind.Tug: return 2;
      case CraftKind.WideBarge: return 3;
      case CraftKind.Narrowboat: return 4;
      case CraftKind.WorkFlat: return 5;
      default: return 2;
    }
  }

  overdue(): boolean {
    if (!this.lastInspection) return true;
    const years = (Date.now() - this.lastInspection.getTime()) / (365.25 * DAY);
    return years > this.interval();
  }

  inspect(faults: readonly string[]): boolean {
    this.lastInspection = new Date();
    this.faults = [...faults];
    if (faults.length === 0) {
      Logbook.write('licence', `${this.craft} passed`);
      return true;
    }
    Logbook.warn('licence', `${this.craft} has ${faults.length} faults: ${faults.join(', ')}`);
    return false;
  }

  repair(fault: string): void {
    const at = this.faults.indexOf(fault);
    if (at < 0) throw new Error(`${this.craft} has no fault "${fault}"`);
    this.faults.splice(at, 1);
    if (this.faults.length === 0) Logbook.write('licence', `${this.craft} is repaired`);
  }

  withdraw(reason: string): void {
    this.withdrawn = true;
    Logbook.alarm('licence', `${this.craft} withdrawn: ${reason}`);
  }

  open(): readonly string[] {
    return this.faults;
  }
}
