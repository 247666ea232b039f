import { Op, QueryTypes } from 'sequelize'
import type { SurveyPart } from '../worker/packed-survey.js'
import { SurveyPartRecord, SurveyRecord } from './database.js'

/** Parts that go to the database at once: few enough that nothing else waits long for it. */
const CHUNK = 200

/**
 * Stores a survey's parts as they come, slice by slice. The overview comes last, and only with it the survey counts as
 * stored; then the parts of earlier ones go. `slice` gives null to stop: what is stored then is taken away with the next.
 */
export async function storeParts(survey: SurveyRecord, slice: (at: number) => Promise<readonly SurveyPart[] | null>): Promise<void> {
  const others = (await SurveyRecord.findAll({ where: { projectId: survey.projectId, id: { [Op.ne]: survey.id } }, attributes: ['id'] })).map(one => one.id)
  for (let at = 0; ; at++) {
    const parts = await slice(at)
    if (parts === null) return
    for (let from = 0; from < parts.length; from += CHUNK) await insert(survey.id, parts.slice(from, from + CHUNK))
    if (parts.some(part => part.name === 'land')) break
  }
  await SurveyPartRecord.destroy({ where: { surveyId: others } })
}

/** Bytes are bound as they are: written into the statement as text they would take several times as long. */
async function insert(surveyId: number, parts: readonly SurveyPart[]): Promise<void> {
  const rows = parts.map((_, row) => `(${[1, 2, 3].map(column => `$${row * 3 + column}`).join(', ')})`).join(', ')
  const bind = parts.flatMap(({ name, content }) => [surveyId, name, Buffer.from(content.buffer, content.byteOffset, content.byteLength)])
  await SurveyPartRecord.sequelize!.query(`INSERT INTO surveyParts (surveyId, name, content) VALUES ${rows}`, { bind, type: QueryTypes.INSERT })
}

/** Id of the last survey of a project that is stored whole. */
export async function storedSurvey(projectId: number): Promise<number | undefined> {
  const surveys = await SurveyRecord.findAll({ where: { projectId }, order: [['id', 'DESC']], attributes: ['id'] })
  for (const { id } of surveys.slice(0, 20)) if (await SurveyPartRecord.count({ where: { surveyId: id, name: 'land' } }) > 0) return id
  return undefined
}
