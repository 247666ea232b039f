import assert from 'node:assert/strict';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import { Convoy, formConvoys } from '../src/booking/convoy.js';
import { CraftKind } from '../src/craft/craft-kind.js';
import { Licence } from '../src/craft/licence.js';
import { MooringPlan } from '../src/craft/mooring-plan.js';
import { Narrowboat } from '../src/craft/narrowboat.js';
import { WideBarge } from '../src/craft/wide-barge.js';
import { LockFlight } from '../src/locks/lock-flight.js';
import { MaintenancePlan } from '../src/locks/maintenance.js';
import { Archive } from '../src/records/archive.js';
import { FloodWatch } from '../src/water/flood-watch.js';
import { LevelTable, sharedLevels } from '../src/water/level-table.js';
import { WaterBudget } from '../src/water/water-budget.js';
import { withLogFolder } from './office-fixture.js';

const small = { length: 17, beam: 2.1, draught: 0.7 };
const wide = { length: 24, beam: 4.2, draught: 1.2 };

test('a craft gets the shortest berth that holds it', () => {
  const { remove } = withLogFolder();
  const plan = new MooringPlan('Sallow Wharf', [
    { name: 'A', length: 30, depth: 1.6, serviced: true },
    { name: 'B', length: 18, depth: 1.0, serviced: false },
    { name: 'C', length: 20, depth: 1.0, serviced: true },
  ]);
  const teasel = new Narrowboat('Teasel', small, 2);
  const marl = new WideBarge('Marl', wide, 3);
  assert.equal(plan.assign(teasel).name, 'B');
  assert.equal(plan.assign(marl).name, 'A');
  assert.equal(teasel.mooredAt(), 'Sallow Wharf/B');
  assert.equal(plan.occupancy(), 67);
  assert.deepEqual(plan.board(), ['A: Marl, 24 m', 'B: Teasel, 17 m', 'C: free (water and power)']);
  assert.throws(() => plan.assign(new WideBarge('Loam', wide, 3)), /no berth/);
  plan.leave(marl);
  assert.equal(plan.free(), 2);
  remove();
});

test('a licence wants an inspection now and then', () => {
  const { remove } = withLogFolder();
  const start = new Date();
  start.setMonth(start.getMonth() - 2);
  const licence = new Licence('Sedge', CraftKind.HireBoat, start, 12);
  assert.ok(licence.overdue());
  assert.ok(!licence.inspect(['bilge pump', 'lamp']));
  licence.repair('lamp');
  assert.deepEqual(licence.open(), ['bilge pump']);
  assert.ok(licence.valid());
  assert.ok(licence.daysLeft() > 290 && licence.daysLeft() < 320);
  licence.withdraw('sank twice');
  assert.ok(!licence.valid());
  assert.throws(() => licence.repair('lamp'), /no fault/);
  remove();
});

test('craft share a chamber as far as they fit', () => {
  const chamber = { length: 36, beam: 4.4, draught: 1.4 };
  const boats = ['Teasel', 'Bulrush', 'Kingcup', 'Sedge'].map(name => new Narrowboat(name, small, 2));
  const { convoys, tooLarge } = formConvoys([...boats, new WideBarge('Marl', wide, 3), new WideBarge('Slate', { ...wide, beam: 5 }, 3)], chamber);
  assert.deepEqual(convoys.map(convoy => convoy.names()), [['Teasel', 'Bulrush', 'Kingcup', 'Sedge'], ['Marl']]);
  assert.deepEqual(tooLarge.map(craft => craft.name), ['Slate']);
  assert.equal(convoys[0]!.filled(), 90);
  assert.equal(new Convoy(chamber).size(), 0);
});

test('wet ground lifts the water', () => {
  const { remove } = withLogFolder();
  const watch = new FloodWatch();
  watch.setLimits('Withy Reach', { watch: 1.2, stop: 1.6 });
  sharedLevels.record('Withy Reach', 1.1);
  assert.equal(watch.state('Withy Reach'), 'calm');
  for (let day = 0; day < 5; day += 1) watch.rain.add(12);
  assert.equal(watch.state('Withy Reach'), 'watch');
  assert.deepEqual(watch.look(), ['Withy Reach: watch']);
  assert.deepEqual(watch.look(), []);
  sharedLevels.record('Withy Reach', 1.7);
  assert.deepEqual(watch.look(), ['Withy Reach: stop']);
  assert.deepEqual(watch.closed(), ['Withy Reach']);
  assert.throws(() => watch.setLimits('Mere', { watch: 2, stop: 1 }), /wrong way round/);
  remove();
});

test('the most urgent work comes first, and fits the day', () => {
  const { remove } = withLogFolder();
  const plan = new MaintenancePlan();
  plan.report('Sallow 2', 'paddle');
  plan.report('Sallow 1', 'gate');
  plan.report('Sallow 2', 'paddle');
  for (let passage = 0; passage < 200; passage += 1) plan.count('Sallow 3');
  assert.deepEqual(plan.open().map(job => `${job.lock} ${job.kind}`), ['Sallow 1 gate', 'Sallow 2 paddle', 'Sallow 3 grease']);
  assert.deepEqual(plan.day(1).map(job => job.kind), ['paddle', 'grease']);
  assert.ok(plan.needsStoppage('Sallow 1'));
  plan.finish('Sallow 1', 'gate');
  assert.ok(!plan.needsStoppage('Sallow 1'));
  assert.throws(() => plan.finish('Sallow 1', 'gate'), /nothing to do/);
  const levels = new LevelTable();
  const flight = new LockFlight('Sallow', 'upper', new WaterBudget(levels, 1000), levels);
  flight.build(2, { length: 22, beam: 2.3, draught: 1.4 });
  assert.equal(plan.crewNote(flight.lockAt(2)!), 'lock 2, 22 m, empty, below lock 1');
  remove();
});

test('papers are put away, found, and thrown away when they are old', () => {
  const folder = mkdtempSync(join(tmpdir(), 'withymere-archive-'));
  const archive = new Archive(join(folder, 'archive'));
  for (const [year, text] of [[1999, 'Kingcup, 5 locks'], [1999, 'Teasel, 2 locks'], [new Date().getFullYear(), 'Kingcup, 1 lock']] as const) {
    writeFileSync(join(folder, 'receipt-1.txt'), text);
    archive.putAway(join(folder, 'receipt-1.txt'), year);
  }
  assert.deepEqual(archive.list(1999).map(entry => entry.name), ['2-receipt-1.txt', 'receipt-1.txt']);
  assert.equal(archive.find('Kingcup').length, 2);
  assert.equal(archive.thin(7), 2);
  assert.ok(!existsSync(join(folder, 'archive/1999')));
  assert.equal(archive.bytes(), 15);
  rmSync(folder, { recursive: true });
});
