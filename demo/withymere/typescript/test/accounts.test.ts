import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { HireBoat } from '../src/craft/hire-boat.js';
import { Narrowboat } from '../src/craft/narrowboat.js';
import { Account } from '../src/tolls/account.js';
import { ConcessionRules } from '../src/tolls/concession.js';
import { withLogFolder } from './office-fixture.js';

const size = { length: 17, beam: 2.1, draught: 0.7 };
const january = new Date(2026, 0, 12);
const june = new Date(2026, 5, 12);

test('what is charged is owed until it is paid', () => {
  const { folder, remove } = withLogFolder();
  const account = new Account('W-17', join(folder, 'receipts'));
  account.addCraft('Teasel');
  account.charge('Teasel', '5 locks', 12.5);
  account.charge('Teasel', 'water', 1.25);
  assert.equal(account.balance(), 13.75);
  const path = account.pay(10);
  assert.equal(account.balance(), 3.75);
  assert.match(readFileSync(path, 'utf8'), /Account W-17 +10\.00/);
  const lines = account.statement('2000-01-01');
  assert.equal(lines.length, 5);
  assert.match(lines[4]!, /paid +-10\.00 +3\.75$/);
  remove();
});

test('an account has a limit, and only its own craft', () => {
  const { folder, remove } = withLogFolder();
  const account = new Account('W-18', join(folder, 'receipts'));
  account.addCraft('Sedge');
  account.setLimit(20);
  account.charge('Sedge', '7 locks', 15);
  assert.throws(() => account.charge('Sedge', '7 locks', 15), /over its limit/);
  assert.throws(() => account.charge('Teasel', '1 lock', 1), /not on account/);
  assert.throws(() => account.pay(0), /more than nothing/);
  assert.ok(account.owns('Sedge') && !account.owns('Teasel'));
  remove();
});

test('concessions add up, but never to more than half', () => {
  const rules = new ConcessionRules();
  const teasel = new Narrowboat('Teasel', size, 2);
  assert.deepEqual(rules.concessionsFor(teasel, 3, june), []);
  assert.equal(rules.explain([]), 'full toll');
  rules.enrol('Teasel');
  const winter = rules.concessionsFor(teasel, 14, january);
  assert.equal(rules.explain(winter), 'club member -10 %, winter -20 %, long passage -5 %');
  assert.equal(rules.apply(100, winter), 68.4);
  assert.equal(rules.apply(100, [{ reason: 'a', share: 0.4 }, { reason: 'b', share: 0.4 }]), 50);
});

test('hire boats pay less in winter', () => {
  const rules = new ConcessionRules();
  const found = rules.concessionsFor(new HireBoat('Sedge', size, 4, 'H-204'), 2, january);
  assert.deepEqual(found, [{ reason: 'winter', share: 0.3 }]);
});
