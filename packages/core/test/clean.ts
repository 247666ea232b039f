import type { Files } from './project.js'

/** A small code base as it should be: ports and adapters, small classes, put together in one place. Nothing is to be found in it. */
export const CLEAN_TYPESCRIPT: Files = {
  'src/tide/clock.ts': 'export interface Clock { now(): number }\n\nexport class SystemClock implements Clock {\n  now(): number { return Date.now() }\n}\n',
  'src/tide/tide-table.ts': `import type { Clock } from './clock'

export class TideTable {
  constructor(private readonly clock: Clock, private readonly heights: readonly number[]) {}

  height(): number {
    const hour = Math.floor(this.clock.now() / 3600000) % 24
    return this.heights[hour % this.heights.length] ?? 0
  }

  isHigh(limit: number): boolean { return this.height() > limit && this.heights.length > 0 }
}
`,
  'src/mooring/store.ts': "import { appendFileSync } from 'node:fs'\n\nexport interface Store { add(line: string): void }\n\nexport class FileStore implements Store {\n  constructor(private readonly path: string) {}\n  add(line: string): void { appendFileSync(this.path, `${line}\\n`) }\n}\n",
  'src/mooring/mooring-desk.ts': `import type { Store } from './store'

export interface Tide { isHigh(limit: number): boolean }

export class MooringDesk {
  private taken = 0
  constructor(private readonly tide: Tide, private readonly store: Store) {}

  take(boat: string): boolean {
    if (this.tide.isHigh(3)) return false
    this.taken += 1
    this.store.add(\`\${boat} takes berth \${this.taken}\`)
    return true
  }
}
`,
  'src/main.ts': `import { MooringDesk } from './mooring/mooring-desk'
import { FileStore } from './mooring/store'
import { SystemClock } from './tide/clock'
import { TideTable } from './tide/tide-table'

function main(): void {
  const desk = new MooringDesk(new TideTable(new SystemClock(), [1, 2, 4]), new FileStore('berths'))
  desk.take('Teasel')
}

main()
`,
  'test/mooring-desk.test.ts': `import { MooringDesk } from '../src/mooring/mooring-desk'

const lines: string[] = []
const desk = new MooringDesk({ isHigh: () => false }, { add: line => { lines.push(line) } })
if (!desk.take('Kingcup') || lines.length !== 1) throw new Error('no berth')
`
}

export const CLEAN_JAVA: Files = {
  'src/main/java/tide/Clocked.java': 'package tide;\npublic interface Clocked { long now(); }\n',
  'src/main/java/tide/SystemClocked.java': 'package tide;\npublic final class SystemClocked implements Clocked { @Override public long now() { return System.currentTimeMillis(); } }\n',
  'src/main/java/tide/TideTable.java': 'package tide;\npublic final class TideTable implements mooring.Tide {\n  private final Clocked clock;\n  private final int[] heights;\n  public TideTable(Clocked clock, int[] heights) { this.clock = clock; this.heights = heights; }\n  @Override public boolean isHigh(int limit) { int hour = (int) (clock.now() / 3600000 % 24); return heights[hour % heights.length] > limit; }\n}\n',
  'src/main/java/mooring/Tide.java': 'package mooring;\npublic interface Tide { boolean isHigh(int limit); }\n',
  'src/main/java/mooring/Store.java': 'package mooring;\npublic interface Store { void add(String line); }\n',
  'src/main/java/mooring/FileStore.java': 'package mooring;\nimport java.nio.file.*;\npublic final class FileStore implements Store {\n  private final Path path;\n  public FileStore(Path path) { this.path = path; }\n  @Override public void add(String line) { try { Files.writeString(path, line); } catch (java.io.IOException failure) { throw new IllegalStateException(failure); } }\n}\n',
  'src/main/java/mooring/MooringDesk.java': 'package mooring;\npublic final class MooringDesk {\n  private final Tide tide;\n  private final Store store;\n  private int taken;\n  public MooringDesk(Tide tide, Store store) { this.tide = tide; this.store = store; }\n  public boolean take(String boat) { if (tide.isHigh(3)) { return false; } taken++; store.add(boat + taken); return true; }\n}\n',
  'src/main/java/main/Main.java': 'package main;\nimport java.nio.file.Path;\nimport mooring.*;\nimport tide.*;\npublic final class Main {\n  public static void main(String[] args) { MooringDesk desk = new MooringDesk(new TideTable(new SystemClocked(), new int[] {1, 2}), new FileStore(Path.of("berths"))); desk.take("Teasel"); }\n}\n'
}
