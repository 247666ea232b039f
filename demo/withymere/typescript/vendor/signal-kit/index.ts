import { createConnection } from 'node:net';

/** Frame of the lock-side radio: a channel, a kind and a text, with a checksum. */
export class Frame {
  private readonly parts: string[] = [];

  constructor(readonly channel: number, readonly kind: string) {}

  append(field: string, value: string | number): this {
    this.parts.push(`${field}=${value}`);
    return this;
  }

  encode(): string {
    const body = `${this.channel}|${this.kind}|${this.parts.join(';')}`;
    let sum = 0;
    for (const char of body) sum = (sum + char.charCodeAt(0)) % 256;
    return `<${body}|${sum.toString(16).padStart(2, '0')}>`;
  }
}

export function decode(text: string): { channel: number; kind: string; fields: Record<string, string> } {
  const match = /^<(\d+)\|([^|]*)\|([^|]*)\|([0-9a-f]{2})>$/.exec(text);
  if (!match) throw new Error(`not a frame: ${text}`);
  const fields: Record<string, string> = {};
  for (const part of match[3]!.split(';')) {
    const [name, value] = part.split('=');
    if (name) fields[name] = value ?? '';
  }
  return { channel: Number(match[1]), kind: match[2]!, fields };
}

/** Sends frames to a mast over the office network. */
export class MastLink {
  constructor(private readonly host: string, private readonly port: number) {}

  send(frame: Frame): Promise<void> {
    return new Promise((resolve, reject) => {
      const socket = createConnection({ host: this.host, port: this.port }, () => {
        socket.end(frame.encode() + '\n', () => resolve());
      });
      socket.setTimeout(2000, () => socket.destroy(new Error('mast does not answer')));
      socket.on('error', reject);
    });
  }
}
