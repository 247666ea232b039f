import { Logbook } from './logbook.js';

export interface PassageEntry {
  readonly craft: string;
  readonly flight: string;
  readonly booked: number;
  readonly toll: number;
}

export class PassageLog {
  private readonly entries: PassageEntry[] = [];

  add(entry: PassageEntry): void {
    this.entries.push(entry);
    Logbook.write('passage', `${entry.craft} through ${entry.flight}, toll ${entry.toll.toFixed(2)}`);
  }

  forCraft(craft: string): PassageEntry[] {
    return this.entries.filter(entry => entry.craft === craft);
  }

  between(from: number, to: number): PassageEntry[] {
    return this.entries.filter(entry => entry.booked >= from && entry.booked < to);
  }

  busiestFlight(): string | null {
    const counts = new Map<string, number>();
    for (const entry of this.entries) counts.set(entry.flight, (counts.get(entry.flight) ?? 0) + 1);
    let best: string | null = null;
    for (const [flight, count] of counts) {
      if (best === null || count > counts.get(best)!) best = flight;
    }
    return best;
  }

  total(): number {
    return Math.round(this.entries.reduce((sum, entry) => sum + entry.toll, 0) * 100) / 100;
  }
}
