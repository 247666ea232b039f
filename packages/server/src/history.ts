import { deflateRawSync, inflateRawSync } from 'node:zlib'
import type { Refusal } from '@hollowmoor/contract/errors'
import { isRefusal, refusal } from '@hollowmoor/contract/errors'
import type { BranchView, ComparisonView, HistoryRow, JobView } from '@hollowmoor/contract/views'
import { compareSurveys } from '@hollowmoor/core/compare/compare'
import type { SurveyDigest } from '@hollowmoor/core/compare/digest'
import type { KeptSurvey } from '@hollowmoor/core/export/comparison-page'
import { comparisonPage } from '@hollowmoor/core/export/comparison-page'
import type { CommitInfo } from '@hollowmoor/host/commit-source'
import { baseBranch, commitOfLine, forkPoint, lastCommits } from '@hollowmoor/host/commit-source'
import type { Jobs } from './jobs.js'
import { JobFailed } from './jobs.js'
import type { ProjectRecord } from './store/database.js'
import { HistoryRecord } from './store/database.js'
import { ProjectThread } from './worker/project-thread.js'

/** Dependencies of which each place is told with the commit that wrote it; git is asked for each. */
const BLAMED = 40
/** Surveys of the files, not of commits, that are kept for each project. */
const KEPT = 200

/** What a survey that nobody asked for is told by: a file was saved. */
export const SAVED = 'files were saved'

/** Surveys that can be compared: those of the files as they came, and those of commits, made when asked for. */
export class History {
  constructor(private readonly jobs: Jobs) {}

  /** Keeps what a survey of the files said; one that came by itself only where it says something else than the one before. */
  async keep(project: ProjectRecord, digest: SurveyDigest, commit: string | null, subject: string): Promise<void> {
    const content = packed(digest)
    if (subject === SAVED) {
      const before = await HistoryRecord.findOne({ where: { projectId: project.id, kind: 'survey' }, order: [['id', 'DESC']], attributes: ['digest'] })
      if (before && Buffer.compare(before.digest, content) === 0) return
    }
    await HistoryRecord.create({ projectId: project.id, kind: 'survey', at: new Date().toISOString(), commit, subject, shares: digest.shares, digest: content })
    const old = await HistoryRecord.findAll({ where: { projectId: project.id, kind: 'survey' }, order: [['id', 'DESC']], offset: KEPT, attributes: ['id'] })
    if (old.length > 0) await HistoryRecord.destroy({ where: { id: old.map(one => one.id) } })
  }

  async rows(project: ProjectRecord): Promise<HistoryRow[]> {
    const records = await HistoryRecord.findAll({ where: { projectId: project.id }, attributes: ['id', 'kind', 'at', 'commit', 'subject', 'shares'] })
    return records.map(({ id, kind, at, commit, subject, shares }) => ({ id, kind, at, commit, subject, shares })).sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : a.id - b.id))
  }

  async compare(project: ProjectRecord, before: number, after: number): Promise<ComparisonView | Refusal> {
    const both = await this.both(project, before, after)
    if (isRefusal(both)) return both
    const [first, second] = both
    const newest = await HistoryRecord.findOne({ where: { projectId: project.id, kind: 'survey' }, order: [['id', 'DESC']], attributes: ['id'] })
    // Lines are asked of git only as they stand now.
    return comparisonView(unpacked(first.digest), unpacked(second.digest), newest?.id === second.id ? project.path : null)
  }

  /** Two kept surveys compared, as one page to hand round. */
  async page(project: ProjectRecord, before: number, after: number): Promise<string | Refusal> {
    const both = await this.both(project, before, after)
    if (isRefusal(both)) return both
    const told = ({ at, commit, subject }: HistoryRecord) => [`${at.slice(0, 16).replace('T', ' ')}`, commit?.slice(0, 10) ?? '', subject].filter(text => text !== '').join(', ')
    const [first, second] = both.map(record => ({ told: told(record), digest: unpacked(record.digest) })) as [KeptSurvey, KeptSurvey]
    return comparisonPage(project.name, first, second)
  }

  private async both(project: ProjectRecord, before: number, after: number): Promise<readonly [HistoryRecord, HistoryRecord] | Refusal> {
    const [first, second] = await Promise.all([before, after].map(id => HistoryRecord.findOne({ where: { id, projectId: project.id } })))
    return first && second ? [first, second] : refusal('NOT_FOUND', 'One of the two surveys is not kept any more; choose another.')
  }

  /** Surveys the last commits that touched the project, those that are not yet known. */
  surveyCommits(project: ProjectRecord, count: number): Promise<JobView> { return this.surveyAll(project, () => lastCommits(project.path, count).reverse()) }

  private surveyAll(project: ProjectRecord, find: () => readonly CommitInfo[]): Promise<JobView> {
    return this.jobs.start(project.id, 'history', null, async ({ progress, signal }) => {
      const commits = find()
      if (commits.length === 0) throw new JobFailed(`${project.path} lies in no git repository, or has no commits.`)
      const thread = new ProjectThread()
      try {
        for (const [index, commit] of commits.entries()) {
          progress('commits', index, commits.length)
          if (signal.aborted) return
          if (await HistoryRecord.count({ where: { projectId: project.id, kind: 'commit', commit: commit.hash } }) > 0) continue
          const digest = await thread.call('commitDigest', [project.path, commit.hash, project.settings], { signal })
          // A commit from before there was code is passed over.
          if (isRefusal(digest)) continue
          await HistoryRecord.create({ projectId: project.id, kind: 'commit', at: new Date(commit.at).toISOString(), commit: commit.hash, subject: commit.subject, shares: digest.shares, digest: packed(digest) })
        }
      } finally { await thread.close() }
    })
  }

  /** What the branch at hand adds; null without git, or on the base itself. Surveys where it left the base, if that is not known yet. */
  async branch(project: ProjectRecord): Promise<BranchView | null> {
    const base = baseBranch(project.path), fork = base === null ? null : forkPoint(project.path, base)
    const now = await HistoryRecord.findOne({ where: { projectId: project.id, kind: 'survey' }, order: [['id', 'DESC']] })
    if (base === null || !fork || !now) return null
    const known = await HistoryRecord.findOne({ where: { projectId: project.id, kind: 'commit', commit: fork.hash } })
    if (known) return { base, commit: fork.hash, job: null, comparison: comparisonView(unpacked(known.digest), unpacked(now.digest), project.path) }
    const running = this.jobs.runningFor(project.id, 'history')
    return { base, commit: fork.hash, job: (running ?? await this.surveyAll(project, () => [fork])).id, comparison: null }
  }
}

function comparisonView(before: SurveyDigest, after: SurveyDigest, folder: string | null): ComparisonView {
  const found = compareSurveys(before, after)
  const told = (list: SurveyDigest['dependencies'], blame: boolean) => list.map(({ from, to, references, places }, index) => ({
    from, to, references, places: places.map(({ file, line }, at) => ({ file, line, commit: blame && folder !== null && index < BLAMED && at === 0 ? commitOfLine(folder, file, line)?.hash.slice(0, 10) ?? null : null }))
  }))
  return { ...found, gone: told(found.gone, false), come: told(found.come, true) }
}

function packed(digest: SurveyDigest): Buffer { return deflateRawSync(Buffer.from(JSON.stringify(digest)), { level: 6 }) }
function unpacked(bytes: Uint8Array): SurveyDigest { return JSON.parse(inflateRawSync(bytes).toString()) as SurveyDigest }
