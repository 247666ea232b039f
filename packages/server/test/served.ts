import { mkdirSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import request from 'supertest'
import type { ProjectView } from '@hollowmoor/contract/views'
import type { Started } from '../dist/serve.js'
// The built server: its threads run built files.
import { serve } from '../dist/serve.js'

/** Writes files below a folder, by their paths in it. */
export function writeFiles(root: string, files: Readonly<Record<string, string>>): void {
  for (const [path, text] of Object.entries(files)) { mkdirSync(dirname(join(root, path)), { recursive: true }); writeFileSync(join(root, path), text) }
}

/** A server that has opened and surveyed a folder, and the number of its project. */
export async function served(dataFolder: string, root: string): Promise<{ readonly started: Started; readonly id: number }> {
  const started = await serve({ port: 0, dataFolder, open: root })
  if ('refused' in started) throw new Error(started.message)
  await started.idle()
  const { body } = await request(started.server).get('/api/projects')
  const { id } = (body as { projects: ProjectView[] }).projects[0]!
  await request(started.server).post(`/api/projects/${id}/survey`).send({})
  await started.idle()
  return { started, id }
}
