import { Frame, MastLink } from 'signal-kit';
import { Logbook } from '../records/logbook.js';

/** Drives one pair of gates through the radio. */
export class GateMotor {
  private position = 0;
  private readonly link = new MastLink(process.env['WITHYMERE_MAST'] ?? '127.0.0.1', 4410);

  constructor(private readonly lock: number) {}

  async open(): Promise<void> {
    await this.move(100);
  }

  async close(): Promise<void> {
    await this.move(0);
  }

  isOpen(): boolean {
    return this.position === 100;
  }

  private async move(to: number): Promise<void> {
    if (this.position === to) return;
    await this.link.send(new Frame(3, 'gate').append('lock', this.lock).append('to', to));
    this.position = to;
    Logbook.write('gate', `lock ${this.lock} at ${to}`);
  }
}
