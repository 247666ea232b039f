import { Craft } from './craft.js';
import { CraftKind } from './craft-kind.js';
import { Dimensions } from './dimensions.js';
import { PoweredCraft } from './powered-craft.js';

export class Tug extends PoweredCraft {
  readonly kind = CraftKind.Tug;
  private behind: Craft | null = null;

  constructor(name: string, size: Dimensions, crew: number) {
    super(name, size, crew, 8);
  }

  override tow(other: Craft): void {
    if (other === this) throw new Error(`${this.name} cannot tow itself`);
    if (this.behind !== null) throw new Error(`${this.name} tows ${this.behind.name} already`);
    this.behind = other;
  }

  override towing(): Craft | null {
    return this.behind;
  }

  letGo(): Craft | null {
    const released = this.behind;
    this.behind = null;
    return released;
  }
}
