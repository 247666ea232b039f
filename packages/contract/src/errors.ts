/** Every way in which a request can be refused, with the HTTP status it is told by. */
export const ERROR_STATUS = {
  FOLDER_MISSING: 404, FOLDER_IS_FILE: 400, FOLDER_NAME: 400, FOLDER_EMPTY: 422, NOTHING_TO_READ: 422, SETTINGS_INVALID: 400,
  PROJECT_UNKNOWN: 404, SURVEY_NONE: 409, TYPE_UNKNOWN: 404, REMEDY_UNKNOWN: 404, CHOICE_INVALID: 400, REMEDY_REFUSED: 422,
  CHANGE_UNKNOWN: 404, CHANGE_STATE: 409, DOES_NOT_COMPILE: 422, FILES_CHANGED: 409, WRITE_FAILED: 500, UNDO_CONFLICT: 409, JOB_UNKNOWN: 404,
  JOB_CANCELLED: 409, COMMAND_NOT_CONFIRMED: 400, REQUEST_INVALID: 400, FOREIGN_ORIGIN: 403, NOT_FOUND: 404, INTERNAL: 500,
  COMMIT_UNKNOWN: 404, OUTPUT_FAILED: 500, BASELINE_INVALID: 400, GIT_STATE: 409, RECORDING_FAILED: 422,
  NOT_PERMITTED: 409, NOT_A_FILE: 409, PATH_NOT_ALLOWED: 400, DISK_FULL: 507, PROJECT_BUSY: 409, DATA_FOLDER_IN_USE: 409, RECOVERY_BLOCKED: 409
} as const

export type ErrorCode = keyof typeof ERROR_STATUS

/** A refusal as a value: what happened, to which file or thing, and what to do next. */
export interface Refusal {
  readonly refused: ErrorCode
  readonly message: string
  readonly subject?: string
}

export function refusal(refused: ErrorCode, message: string, subject?: string): Refusal {
  return subject === undefined ? { refused, message } : { refused, message, subject }
}

export function isRefusal(value: unknown): value is Refusal {
  return typeof value === 'object' && value !== null && 'refused' in value && 'message' in value
}
