import assert from 'node:assert/strict';
import { test } from 'node:test';
import { LevelTable } from '../src/water/level-table.js';
import { Rainfall } from '../src/water/rainfall.js';
import { SluiceController } from '../src/water/sluice-controller.js';
import { WaterBudget } from '../src/water/water-budget.js';
import { withLogFolder } from './office-fixture.js';

test('levels that fall three times are falling', () => {
  const table = new LevelTable();
  for (const level of [1.4, 1.3, 1.2]) table.record('upper', level);
  assert.ok(table.falling('upper'));
  assert.equal(table.latest('upper'), 1.2);
  assert.ok(Math.abs(table.mean('upper', 2)! - 1.25) < 1e-9);
});

test('a falling reach has half the budget', () => {
  const { remove } = withLogFolder();
  const table = new LevelTable();
  const budget = new WaterBudget(table, 1000);
  budget.spend('upper', 400);
  for (const level of [1.4, 1.3, 1.2]) table.record('upper', level);
  assert.ok(!budget.allows('upper', 200));
  assert.throws(() => budget.spend('upper', 200), /no water/);
  assert.equal(budget.left(), 600);
  remove();
});

test('a sluice opens when the level is low', () => {
  const { remove } = withLogFolder();
  const table = new LevelTable();
  table.record('upper', 1.2);
  const sluice = new SluiceController(table, 'upper', 12);
  assert.equal(sluice.adjust(1.5), 6);
  assert.equal(sluice.position(), 6);
  remove();
});

test('old rain counts less', () => {
  const rain = new Rainfall();
  rain.add(10);
  rain.add(0);
  assert.equal(rain.wetness(), 8);
  assert.ok(!rain.dry());
});
