import { Frame, MastLink } from 'signal-kit';
import { Logbook } from '../records/logbook.js';

export class LockKeeper {
  private onDuty = false;

  constructor(readonly name: string, private readonly channel: number) {}

  startShift(): void {
    this.onDuty = true;
    Logbook.write('keeper', `${this.name} on duty`);
  }

  endShift(): void {
    this.onDuty = false;
    Logbook.write('keeper', `${this.name} off duty`);
  }

  available(): boolean {
    return this.onDuty;
  }

  async tell(link: MastLink, text: string): Promise<boolean> {
    if (!this.onDuty) return false;
    await link.send(new Frame(this.channel, 'keeper').append('text', text));
    return true;
  }
}
