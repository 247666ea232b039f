import assert from 'node:assert/strict';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { CraftKind } from '../src/craft/craft-kind.js';
import { HireBoat } from '../src/craft/hire-boat.js';
import { WideBarge } from '../src/craft/wide-barge.js';
import { Receipt } from '../src/tolls/receipt.js';
import { TollCalculator } from '../src/tolls/toll-calculator.js';
import { TollTable } from '../src/tolls/toll-table.js';
import { withLogFolder } from './office-fixture.js';

const size = { length: 17, beam: 2.1, draught: 0.7 };

test('a table is read from text', () => {
  const table = TollTable.parse('narrowboat = 2\nminimum = 3\n');
  assert.equal(table.rate(CraftKind.Narrowboat), 2);
  assert.equal(table.minimum, 3);
  assert.throws(() => TollTable.parse('raft = 1'), /unknown craft/);
});

test('cargo costs more, hire boats pay by lock', () => {
  const calculator = new TollCalculator();
  const barge = new WideBarge('Marl', size, 3);
  barge.loadCargo(40);
  assert.equal(calculator.tollFor(barge, 3), 12.3);
  assert.equal(calculator.tollFor(new HireBoat('Sedge', size, 4, 'H-204'), 5), 8);
});

test('a waived craft pays nothing', () => {
  const { remove } = withLogFolder();
  const calculator = new TollCalculator();
  calculator.waive('Marl', 'works for the trust');
  assert.equal(calculator.tollFor(new WideBarge('Marl', size, 3), 3), 0);
  remove();
});

test('a receipt is added up, formatted and filed', () => {
  const { folder, remove } = withLogFolder();
  const receipt = new Receipt(7, join(folder, 'receipts'));
  receipt.add('Kingcup, 5 locks', 6);
  receipt.add('water', 1.5);
  assert.equal(receipt.total(), 7.5);
  const path = receipt.store();
  assert.ok(existsSync(path));
  assert.match(readFileSync(path, 'utf8'), /Total +7\.50/);
  assert.throws(() => receipt.add('more', 1), /filed already/);
  remove();
});
