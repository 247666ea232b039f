import { Craft } from './craft.js';
import { CraftKind } from './craft-kind.js';
import { Dimensions } from './dimensions.js';

/** A flat without an engine, for stone and dredgings. */
export class WorkFlat implements Craft {
  readonly kind = CraftKind.WorkFlat;
  readonly crew = 0;
  private load = 0;
  private place: string | null = null;

  constructor(readonly name: string, readonly size: Dimensions) {}

  startEngine(): void {}

  stopEngine(): void {}

  engineRunning(): boolean {
    return false;
  }

  speed(): number {
    return 0;
  }

  pumpOut(): number {
    throw new Error('a work flat has no tank');
  }

  takeWater(_litres: number): void {
    throw new Error('a work flat has no tank');
  }

  waterLevel(): number {
    return 0;
  }

  loadCargo(tonnes: number): void {
    if (this.load + tonnes > 40) throw new Error(`${this.name} would be overloaded`);
    this.load += tonnes;
  }

  unloadCargo(): number {
    const tonnes = this.load;
    this.load = 0;
    return tonnes;
  }

  cargo(): number {
    return this.load;
  }

  moor(place: string): void {
    this.place = place;
  }

  castOff(): void {
    this.place = null;
  }

  mooredAt(): string | null {
    return this.place;
  }

  hireReference(): string | null {
    return null;
  }

  tow(_other: Craft): void {
    throw new Error('a work flat cannot tow');
  }

  towing(): Craft | null {
    return null;
  }
}
