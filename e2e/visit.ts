import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser, Page } from 'puppeteer-core'
import puppeteer from 'puppeteer-core'
import type { Demo, Started } from '../packages/server/dist/serve.js'
import { serve } from '../packages/server/dist/serve.js'

const CHROMIUM = [process.env.CHROMIUM, '/usr/bin/chromium', '/usr/bin/chromium-browser'].find(path => path && existsSync(path))!
/** Trials compile and test four times over, on machines that may be busy. */
const PATIENCE = 300_000

/** The application on demos of its own, and a browser that looks at it. */
export class Visit {
  /** What the pages reported as errors. */
  readonly errors: string[] = []

  private constructor(readonly data: string, readonly started: Started, readonly base: string, private readonly browser: Browser, readonly page: Page) {}

  static async begin(demos: readonly Demo[]): Promise<Visit> {
    const data = mkdtempSync(join(tmpdir(), 'hollowmoor-e2e-'))
    const started = await serve({ port: 0, dataFolder: data, demos })
    if ('refused' in started) throw new Error(started.message)
    const browser = await puppeteer.launch({
      // As long as a page waits for something, below: what does not come in that time is told as that.
      protocolTimeout: PATIENCE + 60_000,
      executablePath: CHROMIUM, userDataDir: join(data, 'browser'), defaultViewport: { width: 1280, height: 800 },
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync']
    })
    const page = await browser.newPage()
    page.setDefaultTimeout(PATIENCE)
    const visit = new Visit(data, started, `http://127.0.0.1:${new URL(started.address).port}`, browser, page)
    page.on('pageerror', error => visit.errors.push(String(error)))
    page.on('console', message => { if (message.type() === 'error') visit.errors.push(message.text()) })
    return visit
  }

  async end(): Promise<void> {
    await this.browser.close()
    await this.started.stop()
    rmSync(this.data, { recursive: true, force: true })
  }

  text(selector: string): Promise<string> { return this.page.$eval(selector, node => node.textContent?.replace(/\s+/g, ' ').trim() ?? '') }

  /** Where something does not come, what the page shows instead. */
  private async told<T>(what: string, waiting: Promise<T>): Promise<T> {
    try { return await waiting } catch (error) {
      const shown = await this.page.evaluate(() => document.body.innerText).catch(() => 'nothing that could be read')
      throw new Error(`Waited for ${what} at ${this.page.url()}, which shows:\n${shown.slice(0, 1500)}\n${this.errors.join('\n')}`, { cause: error })
    }
  }

  /** Waits until something that matches holds a text. */
  see(selector: string, part: string): Promise<unknown> {
    return this.told(`${selector} with "${part}"`, this.page.waitForFunction((at: string, wanted: string) =>
      [...document.querySelectorAll(at)].some(node => (node.textContent ?? '').replace(/\s+/g, ' ').includes(wanted)), {}, selector, part))
  }

  async press(selector: string, label: string): Promise<void> {
    const found = await this.told(`${selector} "${label}" to press`, this.page.waitForFunction((at: string, wanted: string) =>
      [...document.querySelectorAll<HTMLElement>(at)].find(node => (node.textContent ?? '').includes(wanted) && !(node as HTMLButtonElement).disabled), {}, selector, label))
    await found.asElement()!.evaluate(node => (node as HTMLElement).click())
  }

  /** What a change is predicted to do to measures, by name. */
  async predicted(): Promise<Record<string, string>> {
    return Object.fromEntries(await this.page.$$eval('aside table tr', rows => rows.map(one => [...one.children].map(cell => cell.textContent?.trim() ?? '')).filter(cells => cells.length === 3).map(cells => [cells[0]!, cells[2]!])))
  }

  /** Presses "Plug it" beside a collaborator on the page of a class. */
  async plug(collaborator: string): Promise<void> {
    const row = await this.page.waitForFunction((name: string) => [...document.querySelectorAll('.joints tr')].find(one => one.textContent?.includes(name)), {}, collaborator)
    await (await row.asElement()!.$('button'))!.evaluate(node => (node as HTMLElement).click())
  }
}

/** Every file of a folder with its bytes, dependencies aside. */
export function filesOf(folder: string): Map<string, string> {
  const found = new Map<string, string>()
  for (const name of readdirSync(folder)) {
    if (name === 'node_modules') continue
    const path = join(folder, name)
    if (statSync(path).isDirectory()) for (const [inner, content] of filesOf(path)) found.set(`${name}/${inner}`, content)
    else found.set(name, readFileSync(path, 'base64'))
  }
  return found
}
