import { CraftKind } from './craft-kind.js';
import { Dimensions } from './dimensions.js';
import { PoweredCraft } from './powered-craft.js';

export class HireBoat extends PoweredCraft {
  readonly kind = CraftKind.HireBoat;

  constructor(name: string, size: Dimensions, crew: number, private readonly reference: string) {
    super(name, size, crew, 5);
  }

  override hireReference(): string {
    return this.reference;
  }
}
