import { CraftKind } from './craft-kind.js';
import { Dimensions } from './dimensions.js';

/** Anything that floats on the navigation and needs a passage. */
export interface Craft {
  readonly name: string;
  readonly kind: CraftKind;
  readonly size: Dimensions;
  readonly crew: number;
  startEngine(): void;
  stopEngine(): void;
  engineRunning(): boolean;
  speed(): number;
  pumpOut(): number;
  takeWater(litres: number): void;
  waterLevel(): number;
  loadCargo(tonnes: number): void;
  unloadCargo(): number;
  cargo(): number;
  moor(place: string): void;
  castOff(): void;
  mooredAt(): string | null;
  hireReference(): string | null;
  tow(other: Craft): void;
  towing(): Craft | null;
}
