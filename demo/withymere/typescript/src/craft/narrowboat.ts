import { CraftKind } from './craft-kind.js';
import { Dimensions } from './dimensions.js';
import { PoweredCraft } from './powered-craft.js';

export class Narrowboat extends PoweredCraft {
  readonly kind = CraftKind.Narrowboat;
  private load = 0;

  constructor(name: string, size: Dimensions, crew: number) {
    super(name, size, crew, 6);
  }

  override loadCargo(tonnes: number): void {
    if (this.load + tonnes > 25) throw new Error(`${this.name} would be overloaded`);
    this.load += tonnes;
  }

  override unloadCargo(): number {
    const tonnes = this.load;
    this.load = 0;
    return tonnes;
  }

  override cargo(): number {
    return this.load;
  }
}
