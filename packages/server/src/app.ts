import { existsSync } from 'node:fs'
import { join } from 'node:path'
import type { ErrorRequestHandler, Express, Request, RequestHandler, Response } from 'express'
import express from 'express'
import helmet from 'helmet'
import type { z } from 'zod'
import { BranchSchema, DecisionsSchema, DivisionSchema, ExportSchema, NewChangeSchema, PlanAgainSchema, NewProjectSchema, ProjectUpdateSchema, HistorySchema, PluggedSchema, SetAsideSchema } from '@hollowmoor/contract/api'
import { ERROR_STATUS, isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { Refusal } from '@hollowmoor/contract/errors'
import type { ClassView, CycleLevel } from '@hollowmoor/contract/views'
import { gitState } from '@hollowmoor/host/git-state'
import { nameObstacle } from '@hollowmoor/core/remedy/chosen-names'
import { systemRefusal } from '@hollowmoor/host/system-error'
import type { Changes } from './changes.js'
import type { History } from './history.js'
import type { Jobs } from './jobs.js'
import type { Projects } from './projects.js'
import { setAside, takeBack, withAsides } from './set-aside.js'
import type { ProjectRecord } from './store/database.js'
import type { Watching } from './watching.js'

export interface AppParts {
  readonly projects: Projects
  readonly changes: Changes
  readonly history: History
  readonly watching: Watching
  readonly jobs: Jobs
  /** Puts the demo back as it was delivered; null where there is no demo. */
  readonly resetDemo: ((project: ProjectRecord) => Promise<Refusal | undefined>) | null
  /** Folder of the built pages. */
  readonly pages: string
}

/** Thrown in a route to answer with a refusal; the last middleware turns it into JSON. */
class Refused extends Error {
  constructor(readonly refusal: Refusal) { super(refusal.message) }
}

function need<T>(value: T | Refusal): T {
  if (isRefusal(value)) throw new Refused(value)
  return value as T
}

function body<S extends z.ZodType>(schema: S, request: Request): z.infer<S> {
  const parsed = schema.safeParse(request.body)
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues
  throw new Refused(refusal('REQUEST_INVALID', `The request is not understood: ${issue?.path.join('.') ?? ''} ${issue?.message ?? ''}`))
}

const text = (request: Request, name: string): string => {
  const value = request.query[name]
  if (typeof value !== 'string') throw new Refused(refusal('REQUEST_INVALID', `The request lacks ${name}.`))
  return value
}

/** The application without a listening socket. */
export function createApp({ projects, changes, history, watching, jobs, resetDemo, pages }: AppParts): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(onlyThisMachine)
  app.use(helmet({ contentSecurityPolicy: { directives: { 'default-src': ["'self'"], 'style-src': ["'self'", "'unsafe-inline'"], 'img-src': ["'self'", 'data:'], 'upgrade-insecure-requests': null } }, strictTransportSecurity: false }))
  app.use(express.json({ limit: '1mb' }))

  const project = async (request: Request): Promise<ProjectRecord> => need(await projects.find(Number(request.params.id)))
  const change = async (request: Request) => {
    const record = need(await changes.find(Number(request.params.id)))
    return { record, owner: need(await projects.find(record.projectId)) }
  }

  const withFindings = async (request: Request, view: ClassView | Refusal): Promise<ClassView | Refusal> =>
    (isRefusal(view) ? view : { ...view, findings: await withAsides(Number(request.params.id), view.findings) })

  app.get('/api/projects', async (_, response) => { response.json({ projects: await projects.views(), demo: resetDemo !== null }) })
  app.post('/api/projects', async (request, response) => {
    const record = need(await projects.add(body(NewProjectSchema, request).path))
    await projects.survey(record)
    response.status(201).json(await projects.view(record))
  })
  app.get('/api/projects/:id', async (request, response) => { response.json(await projects.view(await project(request))) })
  app.patch('/api/projects/:id', async (request, response) => {
    const record = await project(request)
    await projects.update(record, body(ProjectUpdateSchema, request))
    response.json(await projects.view(record))
  })
  app.delete('/api/projects/:id', async (request, response) => { await projects.remove((await project(request)).id); response.status(204).end() })
  app.post('/api/projects/:id/survey', async (request, response) => { response.status(202).json(await projects.survey(await project(request))) })
  app.get('/api/projects/:id/git', async (request, response) => { response.json(await gitState((await project(request)).path)) })
  app.get('/api/projects/:id/stale', async (request, response) => { response.json({ changed: need(await projects.ask(await project(request), 'changedFiles', [])) }) })
  app.get('/api/projects/:id/land', async (request, response) => {
    const record = await project(request), land = need(await projects.ask(record, 'land', []))
    response.json({ ...land, nextSteps: (await withAsides(record.id, land.nextSteps)).filter(step => !step.setAside) })
  })
  app.get('/api/projects/:id/findings', async (request, response) => {
    const record = await project(request)
    response.json(await withAsides(record.id, need(await projects.ask(record, 'findings', []))))
  })
  app.get('/api/projects/:id/finding', async (request, response) => {
    const record = await project(request)
    response.json((await withAsides(record.id, [need(await projects.ask(record, 'finding', [text(request, 'id')]))]))[0])
  })
  app.put('/api/projects/:id/aside', async (request, response) => {
    const record = await project(request), { finding, reason } = body(SetAsideSchema, request)
    await setAside(record.id, need(await projects.ask(record, 'finding', [finding])), reason)
    response.status(204).end()
  })
  app.delete('/api/projects/:id/aside', async (request, response) => { await takeBack((await project(request)).id, text(request, 'finding')); response.status(204).end() })
  app.get('/api/projects/:id/changing', async (request, response) => { response.json(need(await projects.ask(await project(request), 'changing', []))) })
  app.get('/api/projects/:id/fabric', async (request, response) => { response.json(need(await projects.ask(await project(request), 'fabric', []))) })
  app.get('/api/projects/:id/cycles', async (request, response) => { response.json(need(await projects.ask(await project(request), 'cycles', []))) })
  app.get('/api/projects/:id/cycle', async (request, response) => { response.json(need(await projects.ask(await project(request), 'cycle', [text(request, 'key')]))) })
  app.get('/api/projects/:id/types', async (request, response) => { response.json(need(await projects.ask(await project(request), 'types', []))) })
  app.get('/api/projects/:id/type', async (request, response) => { response.json(need(await projects.ask(await project(request), 'type', [text(request, 'type')]).then(view => withFindings(request, view)))) })
  app.post('/api/projects/:id/plugged', async (request, response) => {
    const { type, collaborators } = body(PluggedSchema, request)
    response.json(need(await projects.ask(await project(request), 'plugged', [type, collaborators])))
  })
  app.get('/api/projects/:id/references', async (request, response) => {
    response.json(need(await projects.ask(await project(request), 'references', [text(request, 'level') as CycleLevel, text(request, 'within'), text(request, 'from'), text(request, 'to')])))
  })
  app.get('/api/projects/:id/joint', async (request, response) => {
    response.json(need(await projects.ask(await project(request), 'jointReferences', [text(request, 'type'), text(request, 'collaborator')])))
  })
  app.get('/api/projects/:id/history', async (request, response) => { response.json(await history.rows(await project(request))) })
  app.post('/api/projects/:id/history', async (request, response) => { response.status(202).json(await history.surveyCommits(await project(request), body(HistorySchema, request).commits)) })
  app.get('/api/projects/:id/compare', async (request, response) => { response.json(need(await history.compare(await project(request), Number(text(request, 'before')), Number(text(request, 'after'))))) })
  app.get('/api/projects/:id/branch', async (request, response) => { response.json(await history.branch(await project(request))) })
  app.get('/api/projects/:id/events', async (request, response) => { followProject(projects, watching, await project(request), response) })
  const attach = (response: Response, { name }: ProjectRecord, what: string, content: string): void => {
    const type = what.endsWith('.csv') ? 'text/csv' : what.endsWith('.html') ? 'text/html' : 'application/xml'
    response.set('Content-Disposition', `attachment; filename="${name.replace(/[^\w.-]+/g, '-')}-${what}"`).type(type).send(content)
  }
  app.get('/api/projects/:id/export/changes.csv', async (request, response) => { const record = await project(request); attach(response, record, 'changes.csv', await changes.csv(record.id)) })
  app.get('/api/projects/:id/export/comparison.html', async (request, response) => {
    const record = await project(request)
    attach(response, record, 'comparison.html', need(await history.page(record, Number(text(request, 'before')), Number(text(request, 'after')))))
  })
  app.get('/api/projects/:id/export/:what', async (request, response) => {
    const record = await project(request), what = ExportSchema.safeParse(request.params.what)
    if (!what.success) throw new Refused(refusal('NOT_FOUND', 'There is no such thing to take along.'))
    attach(response, record, what.data, need(await projects.ask(record, 'exported', [what.data, record.name])))
  })
  app.get('/api/projects/:id/wraps', async (request, response) => { response.json(need(await projects.ask(await project(request), 'wraps', [text(request, 'external')]))) })
  app.get('/api/projects/:id/choices', async (request, response) => { response.json(need(await projects.ask(await project(request), 'choices', [text(request, 'remedy')]))) })
  app.get('/api/projects/:id/changes', async (request, response) => { response.json(await changes.list(await project(request))) })
  app.post('/api/projects/:id/changes', async (request, response) => {
    const owner = await project(request)
    const { steps } = body(NewChangeSchema, request)
    for (const { choices } of steps) {
      const obstacle = nameObstacle(choices)
      if (obstacle !== undefined) throw new Refused(refusal('CHOICE_INVALID', obstacle))
    }
    response.status(202).json(changes.view(owner, await changes.plan(owner, steps)))
  })

  app.get('/api/changes/:id', async (request, response) => { response.json(need(await changes.current(Number(request.params.id)))) })
  app.get('/api/changes/:id/diff', async (request, response) => { response.type('text/plain').send(changes.diff((await change(request)).record)) })
  app.get('/api/changes/:id/patches', async (request, response) => {
    const { record } = await change(request)
    response.attachment(`change-${record.id}.patch`).type('text/plain').send(changes.patches(record))
  })
  app.post('/api/changes/:id/branch', async (request, response) => {
    const { record, owner } = await change(request)
    response.status(201).json(need(await changes.commit(owner, record, body(BranchSchema, request))))
  })
  app.post('/api/changes/:id/batches', async (request, response) => {
    const { record, owner } = await change(request)
    need(await changes.startDividing(owner, record, body(DivisionSchema, request)))
    response.status(202).json(changes.view(owner, record))
  })
  app.put('/api/changes/:id/decisions', async (request, response) => {
    const { record, owner } = await change(request)
    need(await changes.decide(owner, record, body(DecisionsSchema, request)))
    response.json(changes.view(owner, record))
  })
  app.post('/api/changes/:id/again', async (request, response) => {
    const { record, owner } = await change(request)
    need(await changes.planAgain(owner, record, body(PlanAgainSchema, request).steps))
    response.status(202).json(changes.view(owner, record))
  })
  for (const [name, act] of [['trial', 'startTrial'], ['write', 'write'], ['undo', 'undo']] as const) {
    app.post(`/api/changes/:id/${name}`, async (request, response) => {
      const { record, owner } = await change(request)
      need(await changes[act](owner, record))
      response.status(202).json(changes.view(owner, record))
    })
  }

  app.get('/api/jobs/:id', async (request, response) => {
    response.json(await jobs.view(Number(request.params.id)) ?? need(refusal('JOB_UNKNOWN', 'There is no such job.')))
  })
  app.post('/api/jobs/:id/cancel', (request, response) => { response.json({ cancelled: jobs.cancel(Number(request.params.id)) }) })
  app.get('/api/jobs/:id/events', async (request, response) => { await streamJob(jobs, Number(request.params.id), request, response) })
  if (resetDemo) app.post('/api/projects/:id/reset', async (request, response) => { need(await resetDemo(await project(request))); response.status(204).end() })

  app.use('/api', () => { throw new Refused(refusal('NOT_FOUND', 'There is nothing at this address.')) })
  if (existsSync(pages)) {
    app.use(express.static(pages, { index: 'index.html', maxAge: '1h', setHeaders: (response, path) => { if (path.endsWith('index.html')) response.setHeader('Cache-Control', 'no-cache') } }))
    app.get('/{*path}', (_, response) => { response.setHeader('Cache-Control', 'no-cache'); response.sendFile(join(pages, 'index.html')) })
  }
  app.use(answerErrors)
  return app
}

/** Watches a project's files for a page, and sends it the number of each new survey. */
function followProject(projects: Projects, watching: Watching, project: ProjectRecord, response: Response): void {
  response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache, no-transform', Connection: 'keep-alive' })
  response.write(': watching\n\n')
  const stopWatching = watching.begin(project)
  const stopListening = projects.listen(project.id, survey => response.write(`data: ${JSON.stringify({ survey })}\n\n`))
  response.on('close', () => { stopListening(); stopWatching() })
}

/** Sends a job's states as server-sent events until it ends. */
async function streamJob(jobs: Jobs, id: number, request: Request, response: Response): Promise<void> {
  const first = await jobs.view(id)
  if (!first) throw new Refused(refusal('JOB_UNKNOWN', 'There is no such job.'))
  response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache, no-transform', Connection: 'keep-alive' })
  const ended = (state: string) => state !== 'queued' && state !== 'running'
  const send = (view: { state: string }) => {
    if (response.writableEnded) return
    response.write(`data: ${JSON.stringify(view)}\n\n`)
    if (ended(view.state)) { leave(); response.end() }
  }
  const leave = jobs.listen(id, send)
  request.on('close', leave)
  // What happened between the look above and the listening is in the view of now.
  const now = await jobs.view(id) ?? first
  send({ ...now, ...(jobs.outputOf(id) ? { output: jobs.outputOf(id) } : {}) } as { state: string })
}

/** The names of this machine for itself, with the port that a request came in by. */
function ownHosts(request: Request): string[] {
  const port = request.socket.localPort ?? 0
  return ['127.0.0.1', 'localhost', '[::1]'].flatMap(name => (port === 80 ? [name, `${name}:80`] : [`${name}:${port}`]))
}

/** Only this machine, and only pages of this server: foreign Host names and origins are answered with 403. */
const onlyThisMachine: RequestHandler = (request, response, next) => {
  const { host = '', origin } = request.headers
  const site = request.headers['sec-fetch-site']
  const own = ownHosts(request)
  const isOwnOrigin = origin !== undefined && own.some(name => origin === `http://${name}`)
  // A page of another site says so; one of another of our own names says its origin, too.
  const isOwnPage = origin === undefined ? site === undefined || site === 'same-origin' || site === 'none' : isOwnOrigin
  if (own.includes(host) && isOwnPage) {
    next()
    return
  }
  response.status(403).json({ code: 'FOREIGN_ORIGIN', message: 'Hollowmoor answers only pages of its own, on this machine.' })
}

const answerErrors: ErrorRequestHandler = (error: unknown, _request, response, _next) => {
  if (response.headersSent) { response.end(); return }
  if (error instanceof Refused) {
    const { refused, message, subject } = error.refusal
    response.status(ERROR_STATUS[refused]).json({ code: refused, message, ...(subject === undefined ? {} : { subject }) })
    return
  }
  const status = (error as { status?: number }).status
  if (status && status >= 400 && status < 500) { response.status(status).json({ code: 'REQUEST_INVALID', message: 'The request is not understood.' }); return }
  const told = systemRefusal(error, 'This was not done')
  if (told) {
    response.status(ERROR_STATUS[told.refused]).json({ code: told.refused, message: told.message, ...(told.subject === undefined ? {} : { subject: told.subject }) })
    return
  }
  response.status(500).json({ code: 'INTERNAL', message: `Something went wrong inside: ${(error as Error).message}` })
}
