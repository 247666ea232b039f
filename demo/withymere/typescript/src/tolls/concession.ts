import { Craft } from '../craft/craft.js';
import { CraftKind } from '../craft/craft-kind.js';

export interface Concession {
  readonly reason: string;
  readonly share: number;
}

/** Works out what is taken off a toll, and why. */
export class ConcessionRules {
  private readonly clubs = new Set<string>();
  private readonly winter: readonly number[] = [11, 0, 1];

  enrol(craft: string): void {
    this.clubs.add(craft);
  }

  concessionsFor(craft: Craft, locks: number, when: Date): Concession[] {
    const found: Concession[] = [];
    if (this.clubs.has(craft.name)) found.push({ reason: 'club member', share: 0.1 });
    if (this.winter.includes(when.getMonth())) found.push({ reason: 'winter', share: this.winterShare(craft.kind) });
    if (locks > 12) found.push({ reason: 'long passage', share: 0.05 });
    if (craft.towing() !== null) found.push({ reason: 'tow', share: 0.2 });
    return found.filter(one => one.share > 0);
  }

  /** Concessions are taken off one after another, and never more than half in all. */
  apply(toll: number, concessions: readonly Concession[]): number {
    const left = concessions.reduce((rest, one) => rest * (1 - one.share), 1);
    return Math.round(toll * Math.max(0.5, left) * 100) / 100;
  }

  explain(concessions: readonly Concession[]): string {
    if (concessions.length === 0) return 'full toll';
    return concessions.map(one => `${one.reason} -${Math.round(one.share * 100)} %`).join(', ');
  }

  private winterShare(kind: CraftKind): number {
    switch (kind) {
      case CraftKind.HireBoat: return 0.3;
      case CraftKind.Narrowboat: return 0.2;
      case CraftKind.WideBarge: return 0.1;
      default: return 0;
    }
  }
}
