import { CraftKind } from './craft-kind.js';
import { Dimensions } from './dimensions.js';
import { PoweredCraft } from './powered-craft.js';

export class WideBarge extends PoweredCraft {
  readonly kind = CraftKind.WideBarge;
  private holds: number[] = [];

  constructor(name: string, size: Dimensions, crew: number) {
    super(name, size, crew, 5);
  }

  override loadCargo(tonnes: number): void {
    if (this.cargo() + tonnes > 60) throw new Error(`${this.name} would be overloaded`);
    this.holds.push(tonnes);
  }

  override unloadCargo(): number {
    const tonnes = this.cargo();
    this.holds = [];
    return tonnes;
  }

  override cargo(): number {
    return this.holds.reduce((sum, tonnes) => sum + tonnes, 0);
  }
}
