import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import type { ElementHandle } from 'puppeteer-core'
import { jdkPrograms } from '../packages/host/dist/java-compiler.js'
import { withymereIn } from '../packages/server/dist/serve.js'
import { filesOf, Visit } from './visit.js'

/** A trial needs a JDK and JUnit's jars; `npm run setup -- --browser` installs them where it may. */
const canTry = jdkPrograms() !== undefined && existsSync(join(process.env.JUNIT_JARS ?? '/usr/share/java', 'junit-platform-console.jar'))
let visit: Visit

beforeAll(async () => { visit = await Visit.begin(withymereIn(resolve('demo/withymere')).slice(1)) })
afterAll(() => visit?.end())

test('the whole way in Java: from opening to a tried, written and undone change', async () => {
  const { page, base, started } = visit
  const code = join(visit.data, 'demo', 'withymere-java')
  const delivered = filesOf(code)
  await page.goto(base)
  await visit.press('a', 'Withymere Navigation, in Java')
  await visit.see('h1', '2 cycles hold 5 modules together')

  await visit.press('.step', 'withymere.water → withymere.booking')
  await visit.see('h1', 'Changing 3 references opens it; no smaller change can (proven)')
  await visit.see('.reference', 'src/main/java/withymere/water/GaugeReader.java:32')
  await visit.press('.ends a.mono', 'PassageDesk')
  await visit.see('h1', '8 welded')
  await visit.plug('TollCalculator')

  await visit.see('h1', '2 steps')
  await visit.press('button', 'Plan it')
  await visit.see('h1', 'It compiles, and every name still means what it meant')
  await visit.see('.file', 'src/main/java/withymere/tolls/TollCalculatorPort.java')
  await visit.see('li', jdkPrograms() ? 'and with the JDK\'s compiler' : 'No JDK is installed here')
  expect(await page.$$eval('.added', all => all.map(node => node.textContent?.trim()))).toEqual(expect.arrayContaining([
    'private final TollCalculatorPort calculator;', 'public class TollCalculator implements TollCalculatorPort {', 'import withymere.tolls.TollCalculatorPort;'
  ]))
  const predicted = await visit.predicted()
  expect(predicted['PassageDesk: welded']).toBe('7')
  expect(filesOf(code)).toEqual(delivered)

  if (canTry) {
    await visit.press('button', 'Confirm and try on a copy')
    await visit.see('aside', 'Compiles. 36 of 36 tests pass, 36 of 36 before.')
    expect(filesOf(code)).toEqual(delivered)
  } else console.warn('No JDK or no JUnit 5 is installed here: the trial was left out.')

  await visit.press('button', 'Write to my files')
  await visit.see('h1', 'written to your files')
  await started.idle()
  await page.goto(`${base}/projects/1/class?type=withymere.booking.PassageDesk`)
  await visit.see('h1', `${predicted['PassageDesk: welded']} welded`)
  await visit.see('h1', `${predicted['PassageDesk: plugged']} plugged`)
  await page.goBack()
  await visit.press('button', 'Undo')
  await visit.see('h1', 'undone; your files are as they were')
  expect(filesOf(code)).toEqual(delivered)
  expect(visit.errors).toEqual([])
})

test('a cycle of packages is opened by an interface put with the side that must not depend', async () => {
  const { page, base } = visit
  await page.goto(`${base}/projects/1/cycles`)
  await visit.press('a', 'Put an interface for what GaugeReader uses of PassageDesk beside GaugeReader')
  await visit.press('button', 'Plan it')
  await visit.see('h1', 'It compiles, and every name still means what it meant')
  await visit.see('.file', 'src/main/java/withymere/water/PassageDeskPort.java')
  expect((await visit.predicted())['module cycles']).toBe('1')
})

test('a facade stands for the statements of a class that are shown by their lines', async () => {
  const { page, base } = visit
  await page.goto(`${base}/projects/1/class?type=withymere.booking.TollWindow`)
  await visit.press('button', 'Introduce facade')
  const line = async (text: string) => (await page.waitForFunction((part: string) => [...document.querySelectorAll<HTMLElement>('.picker .line')].find(one => one.textContent?.includes(part)), {}, text)).asElement() as ElementHandle<HTMLElement>
  await (await line('new Receipt(number, folder)')).click()
  await page.keyboard.down('Shift')
  await (await line('receipt.store()')).click()
  await page.keyboard.up('Shift')
  expect(await page.$$eval('.picker .chosen', all => all.length)).toBe(3)

  // The other end is typed.
  const [first, last] = await page.$$eval('.picker input', all => all.map(one => Number((one as HTMLInputElement).value)))
  expect(last).toBe(first! + 2)
  await page.$eval('.picker input:last-of-type', node => { (node as HTMLInputElement).value = '9999'; node.dispatchEvent(new Event('change')) })
  await visit.press('button', 'Plan it')
  await visit.see('h1', 'holds statements of several methods')
  await visit.press('a', 'Choose otherwise')
  await visit.see('.picker .chosen', 'receipt.store()')
  await page.$eval('.picker input:last-of-type', (node, line) => { (node as HTMLInputElement).value = String(line); node.dispatchEvent(new Event('change')) }, last! + 1)
  await visit.press('button', 'Plan it')
  await visit.see('h1', 'It compiles, and every name still means what it meant')
  await visit.see('.file', 'src/main/java/withymere/booking/ReceiptFacade.java')
  await visit.see('li', 'TollWindow: 8 lines become 2')
})
