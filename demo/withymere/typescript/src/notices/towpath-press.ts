import { Notice } from './notice.js';
import { NoticeBoard } from './notice-board.js';
import { Severity } from './severity.js';

/** Prints the board for the glass cases along the towpath. */
export class TowpathPress {
  private readonly board = new NoticeBoard();

  take(notices: readonly Notice[]): void {
    for (const notice of notices) this.board.pin(notice);
  }

  sheet(width: number): string {
    const rule = '-'.repeat(width);
    const mark = this.board.loudest() === Severity.Danger ? '!! ' : '';
    const lines = this.board.page().split('\n').map(line => mark + line.slice(0, width - mark.length));
    return [rule, ...lines, rule].join('\n');
  }
}
