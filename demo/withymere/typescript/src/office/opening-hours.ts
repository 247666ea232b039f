import { Logbook } from '../records/logbook.js';

export class OpeningHours {
  private readonly exceptions = new Map<string, [number, number] | null>();

  constructor(private readonly summer: [number, number], private readonly winter: [number, number]) {}

  except(day: string, hours: [number, number] | null): void {
    this.exceptions.set(day, hours);
    Logbook.write('hours', `${day}: ${hours === null ? 'closed' : `${hours[0]} to ${hours[1]}`}`);
  }

  openNow(): boolean {
    return this.openAt(new Date());
  }

  openAt(time: Date): boolean {
    const day = time.toISOString().slice(0, 10);
    const hours = this.exceptions.has(day) ? this.exceptions.get(day)! : this.usual(time.getUTCMonth());
    if (hours === null) return false;
    const hour = time.getUTCHours();
    return hour >= hours[0] && hour < hours[1];
  }

  private usual(month: number): [number, number] {
    return month >= 3 && month <= 9 ? this.summer : this.winter;
  }
}
