import { existsSync, readFileSync } from 'node:fs';

export interface Settings {
  readonly mastHost: string;
  readonly mastPort: number;
  readonly logFolder: string;
  readonly receiptFolder: string;
  readonly waterPerDay: number;
}

const defaults: Settings = { mastHost: '127.0.0.1', mastPort: 4410, logFolder: '.', receiptFolder: 'receipts', waterPerDay: 6000 };

export function loadSettings(path: string): Settings {
  if (!existsSync(path)) return defaults;
  const values: Record<string, string> = {};
  for (const line of readFileSync(path, 'utf8').split('\n')) {
    const at = line.indexOf('=');
    if (at > 0) values[line.slice(0, at).trim()] = line.slice(at + 1).trim();
  }
  return {
    mastHost: values['mast.host'] ?? defaults.mastHost,
    mastPort: Number(values['mast.port'] ?? defaults.mastPort),
    logFolder: values['log.folder'] ?? defaults.logFolder,
    receiptFolder: values['receipt.folder'] ?? defaults.receiptFolder,
    waterPerDay: Number(values['water.perDay'] ?? defaults.waterPerDay),
  };
}
