import type { JobView, ProjectView } from '@hollowmoor/contract/views'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, ApiError, followJob } from '../api/client'

/** The project that is open: its state, the survey under way, and whether its survey still matches its files. */
export const useProjectStore = defineStore('project', () => {
  const project = ref<ProjectView | null>(null)
  const job = ref<JobView | null>(null)
  const changedFiles = ref<string[]>([])
  const error = ref<string | null>(null)
  let stopFollowing: (() => void) | undefined

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
    if (project.value.job !== null) follow(project.value.job)
    else void checkStale()
  }

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
