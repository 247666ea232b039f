import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import type { CreationOptional, InferAttributes, InferCreationAttributes } from 'sequelize'
import { DataTypes, Model, Sequelize } from 'sequelize'
import { SequelizeStorage, Umzug } from 'umzug'
import type { Commands, Decisions } from '@hollowmoor/contract/api'
import type { ChangeState, ChangeStep, HistoryRow, JobState, JobView, MeasuredEffect, SurveySummary, TrialView } from '@hollowmoor/contract/views'
import type { FileChange } from '@hollowmoor/core/edit/text-edit'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'
import { systemRefusal } from '@hollowmoor/host/system-error'
import { MIGRATIONS } from './migrations.js'

/** A registered code base. */
export class ProjectRecord extends Model<InferAttributes<ProjectRecord>, InferCreationAttributes<ProjectRecord>> {
  declare id: CreationOptional<number>
  declare name: string
  declare path: string
  declare demo: CreationOptional<boolean>
  declare settings: ProjectSettings | null
  declare commands: Commands | null
}

export class SurveyRecord extends Model<InferAttributes<SurveyRecord>, InferCreationAttributes<SurveyRecord>> {
  declare id: CreationOptional<number>
  declare projectId: number
  declare takenAt: string
  declare commit: string | null
  declare summary: SurveySummary
}

/** One part of a stored survey: what one page needs of it. */
export class SurveyPartRecord extends Model<InferAttributes<SurveyPartRecord>, InferCreationAttributes<SurveyPartRecord>> {
  declare surveyId: number
  declare name: string
  declare content: Uint8Array
}

/** A finding that its project's owner does not want to see, with the reason and what the code was then. */
export class SetAsideRecord extends Model<InferAttributes<SetAsideRecord>, InferCreationAttributes<SetAsideRecord>> {
  declare projectId: number
  declare finding: string
  declare reason: string
  declare digest: string
  declare at: string
}

/** A survey that can be compared with others: its digest, and the figures of it that the chart shows. */
export class HistoryRecord extends Model<InferAttributes<HistoryRecord>, InferCreationAttributes<HistoryRecord>> {
  declare id: CreationOptional<number>
  declare projectId: number
  declare kind: HistoryRow['kind']
  declare at: string
  declare commit: string | null
  declare subject: string
  declare shares: HistoryRow['shares']
  /** JSON, deflated. */
  declare digest: Uint8Array
}

export class ChangeRecord extends Model<InferAttributes<ChangeRecord>, InferCreationAttributes<ChangeRecord>> {
  declare id: CreationOptional<number>
  declare projectId: number
  declare state: ChangeState
  declare steps: ChangeStep[]
  declare refusal: string | null
  /** As it was planned. */
  declare files: FileChange[]
  /** What each step changes by itself; null for one that was planned before that was kept. */
  declare parts: FileChange[][] | null
  /** As it was written, with the decisions of the user. */
  declare written: FileChange[] | null
  /** Folders that were made for its new files, outer ones first; null for one that was not written, or before that was kept. */
  declare madeFolders: string[] | null
  declare effects: MeasuredEffect[]
  declare decisions: Decisions
  declare problems: string[]
  declare trial: TrialView | null
}

export class JobRecord extends Model<InferAttributes<JobRecord>, InferCreationAttributes<JobRecord>> {
  declare id: CreationOptional<number>
  declare projectId: number
  declare changeId: number | null
  declare kind: JobView['kind']
  declare state: JobState
  declare phase: string
  declare done: number
  declare total: number
  declare error: string | null
}

/** Opens the database in a folder, brings it up to date, and marks what was running when the server ended. */
export async function openDatabase(folder: string | null): Promise<Sequelize> {
  if (folder) mkdirSync(folder, { recursive: true })
  const sequelize = new Sequelize({ dialect: 'sqlite', storage: folder ? join(folder, 'hollowmoor.sqlite') : ':memory:', logging: false, pool: { max: 1 } })
  const umzug = new Umzug({ migrations: MIGRATIONS, context: sequelize.getQueryInterface(), storage: new SequelizeStorage({ sequelize }), logger: undefined })
  await umzug.up()
  const id = { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true } as const
  const text = (allowNull = false) => ({ type: DataTypes.TEXT, allowNull })
  const json = (allowNull = false) => ({ type: DataTypes.JSON, allowNull })
  const whole = (allowNull = false) => ({ type: DataTypes.INTEGER, allowNull })
  const options = (tableName: string) => ({ sequelize, tableName, timestamps: false })
  ProjectRecord.init({ id, name: text(), path: text(), demo: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false }, settings: json(true), commands: json(true) }, options('projects'))
  SurveyRecord.init({ id, projectId: whole(), takenAt: text(), commit: text(true), summary: json() }, options('surveys'))
  const blob = (allowNull = false) => ({ type: DataTypes.BLOB, allowNull })
  SurveyPartRecord.init({ surveyId: { ...whole(), primaryKey: true }, name: { ...text(), primaryKey: true }, content: blob() }, options('surveyParts'))
  SetAsideRecord.init({ projectId: { ...whole(), primaryKey: true }, finding: { ...text(), primaryKey: true }, reason: text(), digest: text(), at: text() }, options('setAside'))
  HistoryRecord.init({ id, projectId: whole(), kind: text(), at: text(), commit: text(true), subject: text(), shares: json(), digest: blob() }, options('history'))
  ChangeRecord.init({
    id, projectId: whole(), state: text(), steps: json(), refusal: text(true), files: json(), parts: json(true), written: json(true), madeFolders: json(true), effects: json(), decisions: json(),
    problems: json(), trial: json(true)
  }, options('changes'))
  JobRecord.init({ id, projectId: whole(), changeId: whole(true), kind: text(), state: text(), phase: text(), done: whole(), total: whole(), error: text(true) }, options('jobs'))
  await markInterrupted()
  return sequelize
}

/** Says of what was running when the server ended that it was interrupted. A full disk must not keep the server from starting. */
async function markInterrupted(): Promise<void> {
  try {
    await JobRecord.update({ state: 'interrupted' }, { where: { state: ['queued', 'running'] } })
    const told = 'The server ended while this was being planned; plan it again.'
    await ChangeRecord.update({ state: 'refused', refusal: told }, { where: { state: 'planning' } })
  } catch (error) {
    if (systemRefusal(error, '')?.refused !== 'DISK_FULL') throw error
  }
}
