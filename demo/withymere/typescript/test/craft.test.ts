import assert from 'node:assert/strict';
import { test } from 'node:test';
import { displacement, fits } from '../src/craft/dimensions.js';
import { Narrowboat } from '../src/craft/narrowboat.js';
import { Tug } from '../src/craft/tug.js';
import { WideBarge } from '../src/craft/wide-barge.js';
import { WorkFlat } from '../src/craft/work-flat.js';

const size = { length: 17, beam: 2.1, draught: 0.7 };

test('a narrowboat takes 25 tonnes and no more', () => {
  const boat = new Narrowboat('Kingcup', size, 2);
  boat.loadCargo(25);
  assert.throws(() => boat.loadCargo(1), /overloaded/);
  assert.equal(boat.unloadCargo(), 25);
  assert.equal(boat.cargo(), 0);
});

test('a moored craft stands still', () => {
  const boat = new Narrowboat('Kingcup', size, 1);
  boat.startEngine();
  assert.equal(boat.speed(), 6);
  boat.moor('Teasel Wharf');
  assert.equal(boat.speed(), 0);
});

test('a tug tows one craft at half speed', () => {
  const tug = new Tug('Bulrush', size, 2);
  const flat = new WorkFlat('Dab', size);
  tug.startEngine();
  tug.tow(flat);
  assert.equal(tug.speed(), 4);
  assert.throws(() => tug.tow(new WorkFlat('Gudgeon', size)), /already/);
  assert.equal(tug.letGo(), flat);
});

test('a work flat has no tank', () => {
  assert.throws(() => new WorkFlat('Dab', size).pumpOut(), /no tank/);
});

test('a wide barge adds up its holds', () => {
  const barge = new WideBarge('Marl', size, 3);
  barge.loadCargo(20);
  barge.loadCargo(30);
  assert.equal(barge.cargo(), 50);
});

test('what fits and what it displaces', () => {
  assert.ok(fits(size, { length: 22, beam: 2.3, draught: 1.4 }));
  assert.ok(!fits(size, { length: 15, beam: 2.3, draught: 1.4 }));
  assert.equal(displacement(size), 21.24);
});
