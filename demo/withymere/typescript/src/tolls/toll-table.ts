import { readFileSync } from 'node:fs';
import { CraftKind } from '../craft/craft-kind.js';

/** Rates by kind of craft, per lock. */
export class TollTable {
  private static loaded: TollTable | null = null;

  constructor(private readonly rates: ReadonlyMap<CraftKind, number>, readonly minimum: number) {}

  static current(): TollTable {
    if (TollTable.loaded === null) {
      const file = process.env['WITHYMERE_TOLLS'];
      TollTable.loaded = file ? TollTable.parse(readFileSync(file, 'utf8')) : TollTable.standard();
    }
    return TollTable.loaded;
  }

  static parse(text: string): TollTable {
    const rates = new Map<CraftKind, number>();
    let minimum = 2;
    for (const line of text.split('\n')) {
      const [name, value] = line.split('=').map(part => part.trim());
      if (!name || value === undefined) continue;
      if (name === 'minimum') minimum = Number(value);
      else if ((Object.values(CraftKind) as string[]).includes(name)) rates.set(name as CraftKind, Number(value));
      else throw new Error(`unknown craft in the toll table: ${name}`);
    }
    return new TollTable(rates, minimum);
  }

  static standard(): TollTable {
    return new TollTable(
      new Map([
        [CraftKind.Narrowboat, 1.2],
        [CraftKind.WideBarge, 2.1],
        [CraftKind.WorkFlat, 0.6],
        [CraftKind.HireBoat, 1.6],
        [CraftKind.Tug, 1.4],
      ]),
      2,
    );
  }

  rate(kind: CraftKind): number {
    return this.rates.get(kind) ?? this.minimum;
  }
}
