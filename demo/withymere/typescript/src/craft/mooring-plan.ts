import { Logbook } from '../records/logbook.js';
import { Craft } from './craft.js';

export interface Berth {
  readonly name: string;
  readonly length: number;
  readonly depth: number;
  readonly serviced: boolean;
}

/** Where craft lie overnight, berth by berth. */
export class MooringPlan {
  private readonly taken = new Map<string, Craft>();

  constructor(private readonly place: string, private readonly berths: readonly Berth[]) {}

  /** The shortest free berth that holds the craft. */
  proposal(craft: Craft, serviced = false): Berth | null {
    const fitting = this.berths
      .filter(berth => !this.taken.has(berth.name))
      .filter(berth => berth.length >= craft.size.length && berth.depth > craft.size.draught)
      .filter(berth => !serviced || berth.serviced)
      .sort((a, b) => a.length - b.length || a.name.localeCompare(b.name));
    return fitting[0] ?? null;
  }

  assign(craft: Craft, serviced = false): Berth {
    const berth = this.proposal(craft, serviced);
    if (!berth) throw new Error(`no berth at ${this.place} for ${craft.name}`);
    this.taken.set(berth.name, craft);
    craft.moor(`${this.place}/${berth.name}`);
    Logbook.write('mooring', `${craft.name} at ${this.place}, berth ${berth.name}`);
    return berth;
  }

  leave(craft: Craft): void {
    for (const [name, other] of this.taken) {
      if (other.name !== craft.name) continue;
      this.taken.delete(name);
      craft.castOff();
      Logbook.write('mooring', `${craft.name} left ${this.place}`);
      return;
    }
    Logbook.warn('mooring', `${craft.name} was not at ${this.place}`);
  }

  free(): number {
    return this.berths.length - this.taken.size;
  }

  occupancy(): number {
    if (this.berths.length === 0) return 0;
    return Math.round((this.taken.size / this.berths.length) * 100);
  }

  /** Who lies where, in the order of the berths. */
  board(): string[] {
    return this.berths.map(berth => {
      const craft = this.taken.get(berth.name);
      const note = berth.serviced ? ' (water and power)' : '';
      return craft ? `${berth.name}: ${craft.name}, ${craft.size.length} m` : `${berth.name}: free${note}`;
    });
  }
}
