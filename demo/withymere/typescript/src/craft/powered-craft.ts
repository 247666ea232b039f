import { Craft } from './craft.js';
import { CraftKind } from './craft-kind.js';
import { Dimensions } from './dimensions.js';

export abstract class PoweredCraft implements Craft {
  abstract readonly kind: CraftKind;
  private running = false;
  private place: string | null = null;
  private tank = 0;
  private waste = 0;

  constructor(readonly name: string, readonly size: Dimensions, readonly crew: number, private readonly topSpeed: number) {}

  startEngine(): void {
    if (this.crew < 1) throw new Error(`${this.name} has nobody aboard`);
    this.running = true;
  }

  stopEngine(): void {
    this.running = false;
  }

  engineRunning(): boolean {
    return this.running;
  }

  speed(): number {
    if (!this.running || this.place !== null) return 0;
    return this.towing() === null ? this.topSpeed : this.topSpeed / 2;
  }

  pumpOut(): number {
    const litres = this.waste;
    this.waste = 0;
    return litres;
  }

  takeWater(litres: number): void {
    if (litres <= 0) throw new RangeError('water is taken in whole litres above none');
    this.tank += litres;
    this.waste += Math.round(litres * 0.6);
  }

  waterLevel(): number {
    return this.tank;
  }

  loadCargo(_tonnes: number): void {
    throw new Error(`${this.name} carries no cargo`);
  }

  unloadCargo(): number {
    return 0;
  }

  cargo(): number {
    return 0;
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
    throw new Error(`${this.name} cannot tow`);
  }

  towing(): Craft | null {
    return null;
  }
}
