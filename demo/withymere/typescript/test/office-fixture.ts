import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Logbook } from '../src/records/logbook.js';

/** A folder for the logbook that is gone after the test. */
export function withLogFolder(): { folder: string; remove: () => void } {
  const folder = mkdtempSync(join(tmpdir(), 'withymere-'));
  Logbook.openIn(folder);
  return { folder, remove: () => rmSync(folder, { recursive: true, force: true }) };
}

/** A mast that takes every frame. */
export async function fakeMast(): Promise<{ port: number; frames: string[]; close: () => Promise<void> }> {
  const frames: string[] = [];
  const server: Server = createServer(socket => {
    let text = '';
    socket.on('data', chunk => { text += chunk.toString(); });
    socket.on('end', () => frames.push(text.trim()));
  });
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  const port = typeof address === 'object' && address !== null ? address.port : 0;
  return { port, frames, close: () => new Promise(resolve => server.close(() => resolve())) };
}
