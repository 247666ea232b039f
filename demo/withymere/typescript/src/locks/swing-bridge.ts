/** A road bridge over the cut below a flight, worked by hand. */
export class SwingBridge {
  private angle = 0;
  private swings = 0;

  constructor(readonly name: string, private readonly load: number) {}

  async open(): Promise<void> {
    if (this.load > 0) throw new Error(`${this.load} t stand on ${this.name}`);
    this.swing(90);
  }

  async close(): Promise<void> {
    this.swing(0);
  }

  isOpen(): boolean {
    return this.angle === 90;
  }

  wear(): number {
    return Math.floor(this.swings / 50);
  }

  private swing(to: number): void {
    if (this.angle === to) return;
    this.angle = to;
    this.swings += 1;
  }
}
