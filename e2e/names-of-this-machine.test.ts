import { appendFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { networkInterfaces } from 'node:os'
import { join, resolve } from 'node:path'
import type { ProjectView } from '@hollowmoor/contract/views'
import { withymereIn } from '../packages/server/dist/serve.js'
import { Visit } from './visit.js'

let visit: Visit
beforeAll(async () => {
  visit = await Visit.begin(withymereIn(resolve('demo/withymere')).slice(0, 1))
  await visit.started.idle()
})
afterAll(() => visit?.end())

const hasVersion6 = Object.values(networkInterfaces()).flat().some(one => one?.address === '::1')
const surveyed = async () => ((await (await fetch(`${visit.base}/api/projects/1`)).json()) as ProjectView).surveyedAt

test.each(['127.0.0.1', 'localhost', ...(hasVersion6 ? ['[::1]'] : [])])('opened as %s, actions are done', async name => {
  const before = await surveyed()
  await visit.page.goto(`http://${name}:${new URL(visit.base).port}/projects/1`)
  await visit.see('h1', '2 cycles hold 5 modules together')
  appendFileSync(join(visit.data, 'demo/withymere/src/tolls/toll-calculator.ts'), `// Opened as ${name}.\n`)
  await visit.press('button', 'Renew the survey')
  await visit.page.waitForFunction(async earlier => {
    const { surveyedAt } = (await (await fetch('/api/projects/1')).json()) as { surveyedAt: string }
    return surveyedAt !== earlier
  }, {}, before)
  expect(visit.errors).toEqual([])
})

test('a page of another site on this machine gets nothing done, by script or by form', async () => {
  const before = await surveyed()
  const site = createServer((_, response) => {
    response.setHeader('Content-Type', 'text/html')
    response.end(`<title>Another site</title><form method="post" action="${visit.base}/api/projects/1/survey"><button>Go</button></form>`)
  })
  await new Promise<void>(done => site.listen(0, '127.0.0.1', done))
  try {
    await visit.page.goto(`http://127.0.0.1:${(site.address() as AddressInfo).port}/`)
    const asked = await visit.page.evaluate(async base => {
      const ask = async (init: RequestInit) => fetch(`${base}/api/projects/1/survey`, init).then(({ type, status }) => `${type} ${status}`, () => 'blocked')
      return [await ask({ method: 'POST' }), await ask({ method: 'POST', mode: 'no-cors' }), await ask({ method: 'GET' })]
    }, visit.base)
    expect(asked).toEqual(['blocked', 'opaque 0', 'blocked'])
    await visit.page.click('button')
    await visit.see('body', 'FOREIGN_ORIGIN')
    await visit.started.idle()
    expect(await surveyed()).toBe(before)
  } finally {
    site.closeAllConnections()
    await new Promise(done => site.close(done))
    visit.errors.length = 0
  }
})
