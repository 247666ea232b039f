import { Dimensions } from '../craft/dimensions.js';
import { GateMotor } from './gate-motor.js';
import { LockFlight } from './lock-flight.js';

export class Lock {
  private full = false;
  private readonly upper: GateMotor;
  private readonly lower: GateMotor;

  constructor(readonly number: number, readonly chamber: Dimensions, private readonly flight: LockFlight) {
    this.upper = new GateMotor(number * 10);
    this.lower = new GateMotor(number * 10 + 1);
  }

  async fill(): Promise<void> {
    if (this.lower.isOpen()) await this.lower.close();
    this.full = true;
  }

  async empty(): Promise<void> {
    if (this.upper.isOpen()) await this.upper.close();
    this.full = false;
  }

  isFull(): boolean {
    return this.full;
  }

  volume(): number {
    return Math.round(this.chamber.length * this.chamber.beam * this.chamber.draught);
  }

  above(): Lock | undefined {
    return this.flight.lockAt(this.number - 1);
  }

  async letIn(fromAbove: boolean): Promise<void> {
    if (fromAbove) {
      await this.fill();
      await this.upper.open();
    } else {
      await this.empty();
      await this.lower.open();
    }
  }
}
