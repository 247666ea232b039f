import { Logbook } from '../records/logbook.js';
import { LowWaterNotice } from './low-water-notice.js';
import { Notice } from './notice.js';
import { louder, Severity } from './severity.js';

export class NoticeBoard {
  private notices: Notice[] = [];

  pin(notice: Notice): void {
    if (notice instanceof LowWaterNotice) notice.replaceOlder(this);
    this.notices.push(notice);
    Logbook.write('notices', notice.body(), notice.severity);
  }

  removeWhere(test: (notice: Notice) => boolean): number {
    const before = this.notices.length;
    this.notices = this.notices.filter(notice => !test(notice));
    return before - this.notices.length;
  }

  forReach(reach: string): Notice[] {
    return this.notices.filter(notice => notice.reach === reach);
  }

  loudest(): Severity {
    return this.notices.reduce<Severity>((worst, notice) => louder(worst, notice.severity), Severity.Calm);
  }

  count(): number {
    return this.notices.length;
  }

  page(): string {
    if (this.notices.length === 0) return 'No notices.';
    return this.notices.map((notice, index) => `${index + 1}. ${notice.body()}`).join('\n');
  }
}
