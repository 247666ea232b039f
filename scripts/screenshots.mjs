// Takes the pictures in docs/screenshots: the main views of the demo at 1280x800. `npm run screenshots [-- FOLDER]`.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import puppeteer from 'puppeteer-core'
import { serve, withymereIn } from '../packages/server/dist/serve.js'
import { findBrowser, root } from './setup.mjs'

const folder = resolve(process.argv[2] ?? join(root, 'docs/screenshots'))
const data = mkdtempSync(join(tmpdir(), 'hollowmoor-pictures-'))
const started = await serve({ port: 4890, dataFolder: data, demos: withymereIn(join(root, 'demo/withymere')) })
await started.idle()
const browser = await puppeteer.launch({ executablePath: findBrowser(), args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'], defaultViewport: { width: 1280, height: 800 } })
const base = `http://127.0.0.1:${new URL(started.address).port}`
try {
  const page = await browser.newPage()
  page.on('pageerror', error => console.log('page error:', error.message))
  page.on('console', message => { if (message.type() === 'error') console.log('console:', message.text()) })
  await page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value: 'light' }])
  const shot = async (name, path, wait, action) => {
    await page.goto(base + path, { waitUntil: 'networkidle2' })
    await page.waitForSelector(wait, { timeout: 15000 })
    await action?.()
    await new Promise(done => setTimeout(done, 400))
    await page.screenshot({ path: join(folder, `${name}.png`) })
    console.log(name)
  }
  const desk = encodeURIComponent('src/booking/passage-desk.ts#PassageDesk')
  await shot('projects', '/', 'table')
  await shot('land', '/projects/1', '.stone')
  await shot('what-if', '/projects/1?suppose=1', '.what-if .rows button', async () => {
    await page.evaluate(() => { document.querySelector('.what-if .rows button').click() })
    await page.waitForSelector('.what-if table')
  })
  await shot('findings', `/projects/1/findings?finding=${encodeURIComponent('static-used-from-many-places:src/records/logbook.ts#Logbook')}`, '.evidence')
  await shot('modules', '/projects/1/modules', 'table')
  await shot('cycles', '/projects/1/cycles', '.bracket')
  await shot('classes', '/projects/1/classes', 'table')
  await shot('class', `/projects/1/class?type=${desk}&joint=${encodeURIComponent('src/tolls/toll-calculator.ts#TollCalculator')}`, '.joints')
  await shot('class-inside', `/projects/1/class?type=${desk}`, '.tree', async () => { await page.evaluate(() => document.querySelector('.effect')?.scrollIntoView()) })
  await shot('class-if', `/projects/1/class?type=${encodeURIComponent('src/booking/passage-planner.ts#PassagePlanner')}&plug=${encodeURIComponent('src/records/logbook.ts#Logbook')}`, '.what-if')
  const steps = ['extract-interface:src/tolls/toll-calculator.ts#TollCalculator', 'inject:src/booking/passage-desk.ts#PassageDesk:src/tolls/toll-calculator.ts#TollCalculator@calculator']
  await shot('new-change', `/projects/1/changes/new?${steps.map(step => `step=${encodeURIComponent(step)}`).join('&')}&about=${desk}`, '.fields')
  await (await page.waitForSelector('.act .el-button--primary')).click()
  await page.waitForSelector('.file', { timeout: 60000 })
  const change = new URL(page.url()).pathname
  await shot('change', change, '.file')
  await shot('roles', `/projects/1/changes/new?step=${encodeURIComponent('split-interface:src/craft/craft.ts#Craft')}&about=${encodeURIComponent('src/craft/craft.ts#Craft')}`, '.roles')
  const receipt = encodeURIComponent('src/tolls/receipt.ts#Receipt')
  await shot('outside', `/projects/1/changes/new?step=extract-class:${receipt}:file-system&about=${receipt}`, '.fields', async () => {
    await (await page.waitForSelector('.act .el-button--primary')).click()
    await page.waitForSelector('.file', { timeout: 60000 })
  })
  await shot('first-test', `/projects/1/changes/new?step=${encodeURIComponent('first-test:src/booking/queue.ts#Queue')}&about=${encodeURIComponent('src/booking/queue.ts#Queue')}`, '.recorded', async () => {
    await (await page.waitForSelector('.act .el-button--primary')).click()
    await page.waitForSelector('.beside', { timeout: 240000 })
  })
  const java = ['extract-interface:withymere.tolls.TollCalculator', 'inject:withymere.booking.PassageDesk:withymere.tolls.TollCalculator@calculator']
  await shot('change-java', `/projects/2/changes/new?${java.map(step => `step=${encodeURIComponent(step)}`).join('&')}&about=withymere.booking.PassageDesk`, '.fields', async () => {
    await (await page.waitForSelector('.act .el-button--primary')).click()
    await page.waitForSelector('.file', { timeout: 60000 })
  })
  await shot('settings', '/projects/1/settings', 'textarea')
  await shot('land-dark', '/projects/1', '.stone', async () => { await page.evaluate(() => { [...document.querySelectorAll('button')].find(button => button.textContent === 'Dark')?.click() }) })
  // Last, because what is written changes what the others show.
  await page.evaluate(async path => { await fetch(`/api/changes/${path.split('/').at(-1)}/write`, { method: 'POST' }) }, change)
  await started.idle()
  await page.evaluate(() => { [...document.querySelectorAll('button')].find(button => button.textContent === 'Light')?.click() })
  await shot('history', '/projects/1/history', '.figure', () => new Promise(done => setTimeout(done, 1500)))
} finally {
  await browser.close()
  await started.stop()
  rmSync(data, { recursive: true, force: true })
}
