import { Craft } from '../craft/craft.js';
import { Dimensions } from '../craft/dimensions.js';

/** Craft that share a chamber. */
export class Convoy {
  private readonly members: Craft[] = [];

  constructor(readonly chamber: Dimensions) {}

  /** Takes the craft in where it fits beside or behind those that are in already. */
  admit(craft: Craft): boolean {
    if (craft.size.draught > this.chamber.draught || craft.size.beam > this.chamber.beam) return false;
    if (this.rowsWith(craft).length > this.columns()) return false;
    this.members.push(craft);
    return true;
  }

  size(): number {
    return this.members.length;
  }

  names(): string[] {
    return this.members.map(craft => craft.name);
  }

  slowest(): number {
    return Math.min(...this.members.map(craft => craft.speed()));
  }

  /** How much of the chamber's area is filled, in percent. */
  filled(): number {
    const area = this.members.reduce((sum, craft) => sum + craft.size.length * craft.size.beam, 0);
    return Math.round((area / (this.chamber.length * this.chamber.beam)) * 100);
  }

  private columns(): number {
    const widest = Math.max(0, ...this.members.map(craft => craft.size.beam));
    return widest === 0 ? 1 : Math.max(1, Math.floor(this.chamber.beam / widest));
  }

  /** Rows along the chamber, each filled from the gate on. */
  private rowsWith(craft: Craft): number[] {
    const rows: number[] = [];
    for (const one of [...this.members, craft].sort((a, b) => b.size.length - a.size.length)) {
      const at = rows.findIndex(used => used + one.size.length <= this.chamber.length);
      if (at < 0) rows.push(one.size.length);
      else rows[at]! += one.size.length;
    }
    return rows;
  }
}

/** Puts waiting craft together, in their order, into as few convoys as that allows. */
export function formConvoys(waiting: readonly Craft[], chamber: Dimensions): { convoys: Convoy[]; tooLarge: Craft[] } {
  const convoys: Convoy[] = [];
  const tooLarge: Craft[] = [];
  for (const craft of waiting) {
    const last = convoys[convoys.length - 1];
    if (last?.admit(craft)) continue;
    const fresh = new Convoy(chamber);
    if (fresh.admit(craft)) convoys.push(fresh);
    else tooLarge.push(craft);
  }
  return { convoys, tooLarge };
}
