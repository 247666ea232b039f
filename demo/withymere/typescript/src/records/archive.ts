import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';

export interface ArchiveEntry {
  readonly name: string;
  readonly year: number;
  readonly bytes: number;
}

/** Old papers, put away by year. */
export class Archive {
  constructor(private readonly folder: string) {}

  putAway(path: string, year: number): string {
    const to = join(this.folder, String(year));
    mkdirSync(to, { recursive: true });
    const name = path.slice(path.lastIndexOf('/') + 1);
    let target = join(to, name);
    for (let copy = 2; existsSync(target); copy += 1) target = join(to, `${copy}-${name}`);
    renameSync(path, target);
    return target;
  }

  years(): number[] {
    if (!existsSync(this.folder)) return [];
    return readdirSync(this.folder).map(Number).filter(year => Number.isInteger(year) && year > 1900).sort();
  }

  list(year: number): ArchiveEntry[] {
    const folder = join(this.folder, String(year));
    if (!existsSync(folder)) return [];
    return readdirSync(folder).sort().map(name => ({ name, year, bytes: statSync(join(folder, name)).size }));
  }

  /** Papers of all years in which a word stands. */
  find(word: string): ArchiveEntry[] {
    return this.years().flatMap(year => this.list(year).filter(entry =>
      readFileSync(join(this.folder, String(year), entry.name), 'utf8').includes(word)));
  }

  bytes(): number {
    return this.years().flatMap(year => this.list(year)).reduce((sum, entry) => sum + entry.bytes, 0);
  }

  /** Throws away what is older than a number of years, and says how many papers that were. */
  thin(years: number): number {
    const oldest = new Date().getFullYear() - years;
    let gone = 0;
    for (const year of this.years()) {
      if (year >= oldest) continue;
      gone += this.list(year).length;
      rmSync(join(this.folder, String(year)), { recursive: true });
    }
    return gone;
  }
}
