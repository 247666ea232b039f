import assert from 'node:assert/strict';
import { join } from 'node:path';
import { test } from 'node:test';
import { MastLink } from 'signal-kit';
import { PassageDesk } from '../src/booking/passage-desk.js';
import { Queue } from '../src/booking/queue.js';
import { WaitingList } from '../src/booking/waiting-list.js';
import { FleetRegister } from '../src/craft/fleet-register.js';
import { Narrowboat } from '../src/craft/narrowboat.js';
import { KeeperRota } from '../src/locks/keeper-rota.js';
import { Direction, LockFlight } from '../src/locks/lock-flight.js';
import { LockKeeper } from '../src/locks/lock-keeper.js';
import { NoticeBoard } from '../src/notices/notice-board.js';
import { LedgerBook } from '../src/records/ledger-book.js';
import { Logbook } from '../src/records/logbook.js';
import { PassageLog } from '../src/records/passage-log.js';
import { GaugeReader } from '../src/water/gauge-reader.js';
import { LevelTable, sharedLevels } from '../src/water/level-table.js';
import { WaterBudget } from '../src/water/water-budget.js';
import { fakeMast, withLogFolder } from './office-fixture.js';

const kingcup = () => new Narrowboat('Kingcup', { length: 17, beam: 2.1, draught: 0.7 }, 2);

function desk(folder: string, port: number) {
  const levels = new LevelTable();
  const budget = new WaterBudget(levels, 100_000);
  const flight = new LockFlight('Teasel Rise', 'upper', budget, levels);
  flight.build(2, { length: 22, beam: 2.3, draught: 1.4 });
  const register = new FleetRegister();
  const rota = new KeeperRota();
  const keeper = new LockKeeper('keeper of Teasel Rise', 20);
  keeper.startShift();
  rota.hire(keeper);
  const queue = new Queue();
  const ledger = new LedgerBook();
  const log = new PassageLog();
  const board = new NoticeBoard();
  const made = new PassageDesk(
    queue, [flight], register, rota, board, ledger, log, budget, levels, join(folder, 'receipts'), new MastLink('127.0.0.1', port),
  );
  return { made, flight, register, board, ledger, log, levels };
}

test('a passage is booked, worked and settled', async () => {
  const { folder, remove } = withLogFolder();
  const mast = await fakeMast();
  process.env['WITHYMERE_MAST'] = '127.0.0.1';
  const { made, register, flight } = desk(folder, mast.port);
  const boat = kingcup();
  register.enter(boat);
  assert.equal(made.book({ craft: boat, flight: 'Teasel Rise', direction: Direction.Up, wantedAt: Date.now() }), 1);
  assert.equal(made.planDay('Teasel Rise'), 1);
  assert.equal(flight.keeperName(), 'keeper of Teasel Rise');
  assert.equal(made.pending(), 1);
  assert.ok(Logbook.about('desk').length >= 1);
  await mast.close();
  remove();
});

test('low water delays the flight and pins a notice', () => {
  const { folder, remove } = withLogFolder();
  const { made, board, levels } = desk(folder, 1);
  const reader = new GaugeReader([{ reach: 'upper', floor: 1, read: () => 0.8 }], levels, made);
  assert.equal(reader.sweep(), 1);
  assert.equal(reader.sweep(), 0);
  assert.equal(made.delay('Teasel Rise'), 20);
  assert.equal(board.count(), 1);
  assert.equal(made.expectedWait('Teasel Rise'), 50);
  remove();
});

test('a closed flight takes no bookings', () => {
  const { folder, remove } = withLogFolder();
  const { made, flight, register } = desk(folder, 1);
  const boat = kingcup();
  register.enter(boat);
  flight.closeFor(2);
  assert.throws(() => made.book({ craft: boat, flight: 'Teasel Rise', direction: Direction.Up, wantedAt: Date.now() }), /closed/);
  assert.equal(made.cancel('Kingcup'), false);
  remove();
});

test('requests wait while the reach is low', () => {
  const { remove } = withLogFolder();
  const list = new WaitingList(new Queue(), () => 'waiting-test');
  const request = { craft: kingcup(), flight: 'Teasel Rise', direction: Direction.Up, wantedAt: 0 };
  sharedLevels.record('waiting-test', 0.5);
  assert.equal(list.offer(request), false);
  sharedLevels.record('waiting-test', 1.2);
  assert.equal(list.release(), 1);
  assert.equal(list.size(), 0);
  remove();
});
