/** Levels by reach, in metres over the sill. */
export class LevelTable {
  private readonly levels = new Map<string, number[]>();

  record(reach: string, level: number): void {
    const series = this.levels.get(reach);
    if (series) series.push(level);
    else this.levels.set(reach, [level]);
  }

  latest(reach: string): number | undefined {
    const series = this.levels.get(reach);
    return series?.[series.length - 1];
  }

  mean(reach: string, samples: number): number | undefined {
    const series = this.levels.get(reach)?.slice(-samples);
    if (!series || series.length === 0) return undefined;
    return series.reduce((sum, level) => sum + level, 0) / series.length;
  }

  falling(reach: string): boolean {
    const series = this.levels.get(reach) ?? [];
    if (series.length < 3) return false;
    const [a, b, c] = series.slice(-3) as [number, number, number];
    return a > b && b > c;
  }

  reaches(): string[] {
    return [...this.levels.keys()].sort();
  }
}

export const sharedLevels = new LevelTable();
