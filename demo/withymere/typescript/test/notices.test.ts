import assert from 'node:assert/strict';
import { test } from 'node:test';
import { MastLink } from 'signal-kit';
import { KeeperPager } from '../src/notices/keeper-pager.js';
import { LowWaterNotice } from '../src/notices/low-water-notice.js';
import { NoticeBoard } from '../src/notices/notice-board.js';
import { RadioSender } from '../src/notices/radio-sender.js';
import { Severity } from '../src/notices/severity.js';
import { StoppageNotice } from '../src/notices/stoppage-notice.js';
import { fakeMast, withLogFolder } from './office-fixture.js';

test('a newer low water notice replaces the older one', () => {
  const { remove } = withLogFolder();
  const board = new NoticeBoard();
  board.pin(new LowWaterNotice('upper', 0.9, 1));
  board.pin(new StoppageNotice('lower', 'Monday', 'Friday'));
  board.pin(new LowWaterNotice('upper', 0.4, 1));
  assert.equal(board.count(), 2);
  assert.equal(board.loudest(), Severity.Danger);
  assert.match(board.page(), /1\. Closed from Monday/);
  remove();
});

test('a notice is broadcast as a frame', async () => {
  const { remove } = withLogFolder();
  const mast = await fakeMast();
  await new RadioSender('127.0.0.1', mast.port, 2).broadcast(new StoppageNotice('lower', 'Monday', 'Friday'));
  for (let waited = 0; mast.frames.length === 0 && waited < 2000; waited += 20) await new Promise(resolve => setTimeout(resolve, 20));
  assert.equal(mast.frames.length, 1);
  assert.match(mast.frames[0]!, /^<2\|notice\|severity=watch;text=Closed/);
  await mast.close();
  remove();
});

test('a page is short', async () => {
  const { remove } = withLogFolder();
  const mast = await fakeMast();
  const pager = new KeeperPager(new MastLink('127.0.0.1', mast.port));
  await assert.rejects(pager.page('Teasel', 'x'.repeat(81)), /80 characters/);
  await pager.page('Teasel', 'gate two');
  await mast.close();
  remove();
});
