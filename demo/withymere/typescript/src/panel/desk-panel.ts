import { DisplayView } from 'sluice-display';
import { PassageDesk } from '../booking/passage-desk.js';
import { NoticeBoard } from '../notices/notice-board.js';

export class DeskPanel extends DisplayView {
  private page = 0;

  constructor(private readonly desk: PassageDesk, private readonly board: NoticeBoard) {
    super();
  }

  protected refresh(tick: number): void {
    if (tick % 5 === 0) this.page += 1;
    const lines = this.board.page().split('\n');
    this.write(0, `${this.desk.pending()} waiting`);
    this.write(1, lines[this.page % lines.length] ?? '');
  }
}
