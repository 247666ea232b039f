import assert from 'node:assert/strict';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { TollWindow } from '../src/booking/toll-window.js';
import { SwingBridge } from '../src/locks/swing-bridge.js';
import { LedgerBook } from '../src/records/ledger-book.js';
import { PassageLog } from '../src/records/passage-log.js';
import { withLogFolder } from './office-fixture.js';

test('a passage is paid for at the window', () => {
  const { folder, remove } = withLogFolder();
  const ledger = new LedgerBook();
  const log = new PassageLog();
  const window = new TollWindow(ledger, log, join(folder, 'receipts'));
  assert.equal(window.sellPassage('Sedge', 'Bulrush Steps', 4.5), 5001);
  assert.equal(ledger.balance('tolls'), 4.5);
  assert.ok(existsSync(join(folder, 'receipts', 'receipt-5001.txt')));
  remove();
});

test('a return costs nine tenths of two passages', () => {
  const { folder, remove } = withLogFolder();
  const ledger = new LedgerBook();
  const log = new PassageLog();
  const window = new TollWindow(ledger, log, join(folder, 'receipts'));
  window.sellReturn('Sedge', 'Bulrush Steps', 5);
  assert.equal(ledger.balance('tolls'), 9);
  remove();
});

test('what is sold at the window is in the log', () => {
  const { folder, remove } = withLogFolder();
  const ledger = new LedgerBook();
  const log = new PassageLog();
  const window = new TollWindow(ledger, log, join(folder, 'receipts'));
  window.sellPassage('Sedge', 'Bulrush Steps', 4.5);
  window.sellReturn('Kingcup', 'Bulrush Steps', 5);
  assert.equal(log.busiestFlight(), 'Bulrush Steps');
  assert.equal(log.total(), 13.5);
  remove();
});

test('a bridge opens when nothing stands on it', async () => {
  const bridge = new SwingBridge('Osier Lane bridge', 0);
  await bridge.open();
  assert.ok(bridge.isOpen());
  await bridge.close();
  assert.equal(bridge.wear(), 0);
  await assert.rejects(new SwingBridge('Osier Lane bridge', 3).open(), /3 t stand/);
});
