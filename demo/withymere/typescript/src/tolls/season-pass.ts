export class SeasonPass {
  private uses = 0;

  constructor(readonly craft: string, readonly year: number, private readonly passages: number) {}

  valid(): boolean {
    return new Date().getFullYear() === this.year && this.uses < this.passages;
  }

  use(): void {
    if (!this.valid()) throw new Error(`the pass of ${this.craft} is used up`);
    this.uses += 1;
  }

  left(): number {
    return this.passages - this.uses;
  }
}
