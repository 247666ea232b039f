import { unifiedDiff } from './diff.js'
import type { FileChange } from './text-edit.js'

/** One commit to be: what it is called, why, and what it changes. */
export interface CommitPlan {
  readonly title: string
  readonly notes: readonly string[]
  readonly changes: readonly FileChange[]
}

/** A commit for each batch of a plan's files, its notes with the first; the plan itself where it is not divided. */
export function inBatches(plan: CommitPlan, batches: readonly (readonly string[])[]): CommitPlan[] {
  if (batches.length < 2) return [plan]
  return batches.map((paths, index) => ({
    title: `${plan.title} (${index + 1} of ${batches.length})`, notes: index === 0 ? plan.notes : [], changes: plan.changes.filter(change => paths.includes(change.path))
  }))
}

const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'], MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** The message of a commit: its title, a blank line, its notes. */
export function commitMessage({ title, notes }: CommitPlan): string { return [title, ...(notes.length > 0 ? ['', ...notes] : [])].join('\n') + '\n' }

/** Commits as mails in one file (RFC 4155), as `git am` takes them. Paths are those below the project's root; `--directory` puts them elsewhere. */
export function patchSeries(commits: readonly CommitPlan[], when: Date): string {
  const two = (number: number) => String(number).padStart(2, '0')
  const date = `${DAYS[when.getUTCDay()]}, ${when.getUTCDate()} ${MONTHS[when.getUTCMonth()]} ${when.getUTCFullYear()} ${two(when.getUTCHours())}:${two(when.getUTCMinutes())}:${two(when.getUTCSeconds())} +0000`
  return commits.map((commit, index) => [
    `From ${'0'.repeat(40)} Mon Sep 17 00:00:00 2001`, 'From: Hollowmoor <hollowmoor@localhost>', `Date: ${date}`,
    `Subject: [PATCH ${index + 1}/${commits.length}] ${headerText(commit.title)}`, 'MIME-Version: 1.0', 'Content-Type: text/plain; charset=UTF-8', 'Content-Transfer-Encoding: 8bit', '',
    // A line that looks like the end of the message, or like a mail of its own, would be taken for one.
    ...commit.notes.map(note => note.replace(/^(---|diff |From )/gm, ' $1')), '---', '', unifiedDiff(commit.changes) + '-- ', 'Hollowmoor', '', ''
  ].join('\n')).join('')
}

/** A header's text: other letters than ASCII in an encoded word (RFC 2047). */
function headerText(text: string): string {
  if (/^[\x20-\x7e]*$/.test(text)) return text
  const bytes = new TextEncoder().encode(text)
  return `=?UTF-8?Q?${[...bytes].map(byte => (byte === 32 ? '_' : /[A-Za-z0-9]/.test(String.fromCharCode(byte)) && byte < 128 ? String.fromCharCode(byte) : `=${byte.toString(16).toUpperCase().padStart(2, '0')}`)).join('')}?=`
}
