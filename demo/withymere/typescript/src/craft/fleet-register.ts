import { Logbook } from '../records/logbook.js';
import { Craft } from './craft.js';
import { CraftKind } from './craft-kind.js';
import { displacement } from './dimensions.js';

export class FleetRegister {
  private readonly byName = new Map<string, Craft>();

  enter(craft: Craft): void {
    if (this.byName.has(craft.name)) throw new Error(`${craft.name} is on the register already`);
    this.byName.set(craft.name, craft);
    Logbook.write('fleet', `${craft.name} entered, ${displacement(craft.size)} t`);
  }

  strike(name: string): void {
    if (!this.byName.delete(name)) throw new Error(`${name} is not on the register`);
    Logbook.write('fleet', `${name} struck off`);
  }

  find(name: string): Craft {
    const craft = this.byName.get(name);
    if (!craft) throw new Error(`${name} is not on the register`);
    return craft;
  }

  ofKind(kind: CraftKind): Craft[] {
    return [...this.byName.values()].filter(craft => craft.kind === kind);
  }

  count(): number {
    return this.byName.size;
  }

  /** Craft that have been moored at the same place, in order of size. */
  mooredAt(place: string): Craft[] {
    return [...this.byName.values()]
      .filter(craft => craft.mooredAt() === place)
      .sort((a, b) => b.size.length - a.size.length);
  }
}
