import { Notice } from './notice.js';
import { NoticeBoard } from './notice-board.js';
import { Severity } from './severity.js';

export class LowWaterNotice extends Notice {
  constructor(reach: string, readonly level: number, readonly floor: number) {
    super(level < floor / 2 ? Severity.Danger : Severity.Watch, reach);
  }

  headline(): string {
    return `Low water: ${this.level.toFixed(2)} m of ${this.floor.toFixed(2)} m`;
  }

  replaceOlder(board: NoticeBoard): number {
    return board.removeWhere(notice => notice instanceof LowWaterNotice && notice.reach === this.reach);
  }
}
