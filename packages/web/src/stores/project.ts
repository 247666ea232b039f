import type { JobView, ProjectView } from '@hollowmoor/contract/views'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, ApiError, followJob, followProject } from '../api/client'

/** The project that is open: its state, the survey under way, and whether its survey still matches its files. */
export const useProjectStore = defineStore('project', () => {
  const project = ref<ProjectView | null>(null)
  const job = ref<JobView | null>(null)
  const changedFiles = ref<string[]>([])
  const error = ref<string | null>(null)
  let stopFollowing: (() => void) | undefined
  let stopWatching: (() => void) | undefined
  let watched = 0

  /** Changes with every new survey, so that views know when to load again. */
  const version = computed(() => `${project.value?.id ?? 0}:${project.value?.surveyId ?? 0}`)

  async function open(id: number): Promise<void> {
    if (project.value?.id !== id) { project.value = null; job.value = null; changedFiles.value = [] }
    try {
      project.value = await api.project(id)
      error.value = null
    } catch (failure) {
      error.value = failure instanceof ApiError ? failure.message : String(failure)
      return
    }
    watchFiles(id)
    if (project.value.job !== null) follow(project.value.job)
    else void checkStale()
  }

  /** Saved files lead to a new survey, and that to new figures, without a reload. */
  function watchFiles(id: number): void {
    if (watched === id) return
    stopWatching?.()
    watched = id
    stopWatching = followProject(id, () => { void api.project(id).then(view => { if (project.value?.id === id) { project.value = view; changedFiles.value = [] } }) })
  }

  // A page that the browser keeps to go back to looks at nothing meanwhile.
  addEventListener('pagehide', () => { stopWatching?.(); stopWatching = undefined; watched = 0 })
  addEventListener('pageshow', event => { if (event.persisted && project.value) void open(project.value.id) })

  function follow(id: number): void {
    stopFollowing?.()
    stopFollowing = followJob(id, state => {
      job.value = state
      if (state.state === 'queued' || state.state === 'running') return
      job.value = null
      const current = project.value?.id
      if (current !== undefined) void api.project(current).then(view => { project.value = view; void checkStale() })
    })
  }

  async function survey(): Promise<void> {
    if (!project.value) return
    follow((await api.survey(project.value.id)).id)
  }

  async function checkStale(): Promise<void> {
    if (!project.value || project.value.surveyId === null || job.value) return
    changedFiles.value = await api.stale(project.value.id).then(answer => answer.changed, () => [])
  }

  return { project, job, changedFiles, error, version, open, follow, survey, checkStale }
})
