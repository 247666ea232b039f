// What tests write and scratch folders they leave is noted in a folder of their own, not in the user's.
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

process.env.HOLLOWMOOR_STATE ??= mkdtempSync(join(tmpdir(), 'hollowmoor-state-'))
