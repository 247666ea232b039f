import { appendFileSync, existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Severity } from '../notices/severity.js';

/** The office logbook. Everything writes here. */
export class Logbook {
  private static folder = process.env['WITHYMERE_LOG'] ?? '.';
  private static entries = 0;

  static openIn(folder: string): void {
    Logbook.folder = folder;
    Logbook.entries = 0;
  }

  static write(topic: string, text: string, severity: Severity = Severity.Calm): void {
    const line = `${new Date().toISOString()} [${severity}] ${topic}: ${text}\n`;
    appendFileSync(Logbook.path(), line);
    Logbook.entries += 1;
  }

  static warn(topic: string, text: string): void {
    Logbook.write(topic, text, Severity.Watch);
  }

  static alarm(topic: string, text: string): void {
    Logbook.write(topic, text, Severity.Danger);
  }

  static count(): number {
    return Logbook.entries;
  }

  static lines(): string[] {
    if (!existsSync(Logbook.path())) return [];
    return readFileSync(Logbook.path(), 'utf8').split('\n').filter(line => line !== '');
  }

  static about(topic: string): string[] {
    return Logbook.lines().filter(line => line.includes(`] ${topic}: `));
  }

  private static path(): string {
    return join(Logbook.folder, 'logbook.txt');
  }
}
