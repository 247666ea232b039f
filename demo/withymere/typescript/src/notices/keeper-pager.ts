import { Frame, MastLink } from 'signal-kit';
import { Logbook } from '../records/logbook.js';

export class KeeperPager {
  constructor(private readonly link: MastLink) {}

  async page(keeper: string, text: string): Promise<void> {
    if (text.length > 80) throw new RangeError('a page is at most 80 characters');
    const frame = new Frame(7, 'page').append('to', keeper).append('text', text);
    await this.link.send(frame);
    Logbook.write('pager', `${keeper}: ${text}`);
  }
}
