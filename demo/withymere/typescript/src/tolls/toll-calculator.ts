import { Craft } from '../craft/craft.js';
import { CraftKind } from '../craft/craft-kind.js';
import { Logbook } from '../records/logbook.js';
import { TollTable } from './toll-table.js';

export class TollCalculator {
  private readonly waived = new Set<string>();

  tollFor(craft: Craft, locks: number): number {
    if (this.waived.has(craft.name)) return 0;
    const table = TollTable.current();
    const base = table.rate(craft.kind) * locks;
    let toll: number;
    switch (craft.kind) {
      case CraftKind.WideBarge:
        toll = base + craft.cargo() * 0.15;
        break;
      case CraftKind.Narrowboat:
        toll = base + craft.cargo() * 0.1;
        break;
      case CraftKind.WorkFlat:
        toll = base / 2;
        break;
      case CraftKind.HireBoat:
        toll = craft.hireReference() === null ? base * 2 : base;
        break;
      case CraftKind.Tug:
        toll = craft.towing() === null ? base : base * 1.5;
        break;
      default:
        toll = base;
    }
    return Math.max(table.minimum, Math.round(toll * 100) / 100);
  }

  waive(name: string, reason: string): void {
    this.waived.add(name);
    Logbook.warn('tolls', `waived for ${name}: ${reason}`);
  }
}
