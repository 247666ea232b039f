import { Frame, MastLink } from 'signal-kit';
import { Logbook } from '../records/logbook.js';
import { Notice } from './notice.js';

export class RadioSender {
  private readonly link: MastLink;

  constructor(host: string, port: number, private readonly channel: number) {
    this.link = new MastLink(host, port);
  }

  async broadcast(notice: Notice): Promise<void> {
    const frame = new Frame(this.channel, 'notice')
      .append('severity', notice.severity)
      .append('text', notice.headline());
    await this.link.send(frame);
    Logbook.write('radio', `sent ${notice.headline()}`);
  }
}
