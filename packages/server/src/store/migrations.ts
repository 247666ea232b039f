import type { QueryInterface } from 'sequelize'
import { DataTypes } from 'sequelize'

const id = { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true }
const text = { type: DataTypes.TEXT, allowNull: false }
const maybe = { type: DataTypes.TEXT, allowNull: true }
const json = { type: DataTypes.JSON, allowNull: true }
const whole = { type: DataTypes.INTEGER, allowNull: false }

/** Steps of the database, oldest first. A step that was released is never changed. */
export const MIGRATIONS = [
  {
    name: '0001-projects-surveys-changes-jobs',
    async up({ context }: { context: QueryInterface }): Promise<void> {
      await context.createTable('projects', { id, name: text, path: text, demo: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false }, settings: json, commands: json })
      await context.createTable('surveys', { id, projectId: whole, takenAt: text, commit: maybe, summary: json })
      await context.createTable('changes', {
        id, projectId: whole, state: text, steps: json, refusal: maybe, files: json, written: json, effects: json, decisions: json, problems: json, trial: json
      })
      await context.createTable('jobs', {
        id, projectId: whole, changeId: { type: DataTypes.INTEGER, allowNull: true }, kind: text, state: text, phase: text, done: whole, total: whole, error: maybe
      })
    }
  },
  {
    name: '0002-parts-of-surveys',
    async up({ context }: { context: QueryInterface }): Promise<void> {
      const blob = (allowNull: boolean) => ({ type: DataTypes.BLOB, allowNull })
      await context.createTable('surveyParts', { surveyId: { ...whole, primaryKey: true }, name: { ...text, primaryKey: true }, json: blob(false), references: blob(true) })
    }
  },
  {
    name: '0003-findings-set-aside',
    async up({ context }: { context: QueryInterface }): Promise<void> {
      await context.createTable('setAside', { projectId: { ...whole, primaryKey: true }, finding: { ...text, primaryKey: true }, reason: text, digest: text, at: text })
    }
  },
  {
    name: '0004-history',
    async up({ context }: { context: QueryInterface }): Promise<void> {
      await context.createTable('history', {
        id, projectId: whole, kind: text, at: text, commit: maybe, subject: text, shares: json, digest: { type: DataTypes.BLOB, allowNull: false }
      })
    }
  },
  {
    // A stored survey only spares making it anew, so parts in the old form are let go.
    name: '0005-parts-in-one-piece',
    async up({ context }: { context: QueryInterface }): Promise<void> {
      await context.dropTable('surveyParts')
      await context.createTable('surveyParts', { surveyId: { ...whole, primaryKey: true }, name: { ...text, primaryKey: true }, content: { type: DataTypes.BLOB, allowNull: false } })
    }
  },
  {
    name: '0006-steps-by-themselves',
    async up({ context }: { context: QueryInterface }): Promise<void> { await context.addColumn('changes', 'parts', json) }
  },
  {
    name: '0007-folders-made',
    async up({ context }: { context: QueryInterface }): Promise<void> {
      await context.addColumn('changes', 'madeFolders', json)
    }
  }
]
