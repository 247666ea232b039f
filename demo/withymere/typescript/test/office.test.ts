import assert from 'node:assert/strict';
import { join } from 'node:path';
import { test } from 'node:test';
import { Office } from '../src/office/office.js';
import { OpeningHours } from '../src/office/opening-hours.js';
import { loadSettings } from '../src/office/settings.js';
import { LockPanel } from '../src/panel/lock-panel.js';
import { LedgerBook } from '../src/records/ledger-book.js';
import { PassageLog } from '../src/records/passage-log.js';
import { withLogFolder } from './office-fixture.js';

function office(folder: string) {
  const settings = { ...loadSettings('none.conf'), logFolder: folder, receiptFolder: join(folder, 'receipts') };
  return new Office(settings, [{ reach: 'upper', floor: 1, read: () => 1.3 }, { reach: 'lower', floor: 1, read: () => 1.2 }]);
}

test('the office opens, reads its gauges and closes', () => {
  const { folder, remove } = withLogFolder();
  const made = office(folder);
  assert.equal(made.open(['first', 'second']), 2);
  assert.equal(made.reader.sweep(), 0);
  assert.match(made.close(), /0 passages, 0 waiting/);
  remove();
});

test('the panel lets the gate open when all is well', () => {
  const { folder, remove } = withLogFolder();
  const made = office(folder);
  made.open(['first', 'second']);
  made.reader.sweep();
  let tick: (at: number) => void = () => {};
  const panel = made.panels()[0] as LockPanel;
  panel.attach({ onTick: listener => { tick = listener; } });
  tick(1);
  assert.ok(panel.gateMayOpen());
  assert.equal(panel.shown()[1], 'GATE MAY OPEN');
  made.flights[0]!.closeFor(1);
  tick(2);
  assert.equal(panel.shown()[1], 'WAIT: closed');
  remove();
});

test('opening hours follow the season and their exceptions', () => {
  const { remove } = withLogFolder();
  const hours = new OpeningHours([7, 20], [9, 16]);
  assert.ok(hours.openAt(new Date('2026-07-01T19:00:00Z')));
  assert.ok(!hours.openAt(new Date('2026-12-01T19:00:00Z')));
  hours.except('2026-07-01', null);
  assert.ok(!hours.openAt(new Date('2026-07-01T12:00:00Z')));
  remove();
});

test('the ledger balances and the log knows the busiest flight', () => {
  const { remove } = withLogFolder();
  const ledger = new LedgerBook();
  ledger.credit('tolls', 12.5, 'Kingcup');
  ledger.debit('tolls', 2.5, 'refund');
  assert.equal(ledger.balance('tolls'), 10);
  const log = new PassageLog();
  log.add({ craft: 'Kingcup', flight: 'Teasel Rise', booked: 1, toll: 6 });
  log.add({ craft: 'Sedge', flight: 'Teasel Rise', booked: 2, toll: 8 });
  assert.equal(log.busiestFlight(), 'Teasel Rise');
  assert.equal(log.total(), 14);
  remove();
});
