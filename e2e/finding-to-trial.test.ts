import { join, resolve } from 'node:path'
import { withymereIn } from '../packages/server/dist/serve.js'
import { filesOf, Visit } from './visit.js'

let visit: Visit

beforeAll(async () => { visit = await Visit.begin(withymereIn(resolve('demo/withymere')).slice(0, 1)) })
afterAll(() => visit?.end())

test.each([
  ['a static of many', 'static-used-from-many-places:src/records/logbook.ts#Logbook', 'make the static replaceable', 'export class DefaultLogbook implements LogbookPort {'],
  ['an interface that asks too much', 'refused-member:src/craft/work-flat.ts#WorkFlat:src/craft/craft.ts#Craft', 'split interface', 'export interface Craft extends CraftName, CraftCrew, CraftStartEngine, CraftLoadCargo, CraftTow {}'],
  ['a constructor that takes much', 'crowded-constructor:src/booking/passage-desk.ts#PassageDesk', 'compose the object graph in one place', 'const waterBudget = new WaterBudget(levelTable, perDay);'],
  ['arguments that travel together', 'crowded-constructor:src/booking/passage-desk.ts#PassageDesk', 'group arguments', 'export interface PassageDeskParts {'],
  ['a method that envies another class', 'feature-envy:src/locks/maintenance.ts#MaintenancePlan.crewNote:src/locks/lock.ts#Lock', 'move member', 'return lock.crewNote();'],
  ['classes that are always used together', 'always-used-together:src/records/ledger-book.ts#LedgerBook+src/records/passage-log.ts#PassageLog+src/tolls/receipt.ts#Receipt', 'introduce facade', 'constructor(private readonly receiptFacade: ReceiptFacade) {}'],
  ['logic that a framework locks in', 'logic-in-a-framework-class:src/panel/lock-panel.ts#LockPanel', 'extract plain class', 'const { reason, allowed } = this.logic.decide();'],
  ['tests that set up the same', 'repeated-test-setup:src/booking/toll-window.ts#TollWindow+src/records/ledger-book.ts#LedgerBook+src/records/passage-log.ts#PassageLog', 'one builder for the set-up', 'const { remove, log, window } = setUpTollWindow();'],
  ['a choice by kind', 'type-switch:src/craft/craft-kind.ts#CraftKind', 'replace the type switch', 'return this.intervalBy(this.kind).interval();'],
  ['a class with several jobs', 'several-responsibilities:src/craft/powered-craft.ts#PoweredCraft', 'extract class', 'class PoweredCraftTank {'],
  ['what computes and files, too', 'several-responsibilities:src/tolls/receipt.ts#Receipt:outside', 'extract class', 'const path = this.files.store(() => this.format());'],
  ['two classes of one shape', 'same-shape:src/locks/gate-motor.ts#GateMotor+src/locks/swing-bridge.ts#SwingBridge', 'introduce a shared interface', 'export class GateMotor implements GateMotorPort {']
])('%s: from its finding to a remedy that is tried on a copy', async (_, finding, remedy, line) => {
  const code = join(visit.data, 'demo', 'withymere'), delivered = filesOf(code)
  await visit.page.goto(`${visit.base}/projects/1/findings?finding=${encodeURIComponent(finding)}`)
  await visit.press('.block a', remedy)
  await visit.see('h1', 'One step')
  await visit.press('button', 'Plan it')
  await visit.see('h1', 'It compiles, and every name still means what it meant')
  expect(await visit.page.$$eval('.added', all => all.map(node => node.textContent?.trim()))).toContain(line)
  await visit.press('button', 'ry on a copy')
  await visit.see('aside', '39 of 39 tests pass, 39 of 39 before')
  expect(filesOf(code)).toEqual(delivered)
})
