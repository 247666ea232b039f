import { WriteRecord } from '@hollowmoor/host/write-journal'
import { ChangeRecord } from './store/database.js'

/**
 * Writes of this data folder's changes that are done on the files and not yet in the database: a crash came between, or the
 * disk of the data folder is full. Until the database can be told, their journals say what is true of the change.
 */
export class UnsettledWrites {
  /** The writes of each change, oldest first: of one that was written and undone there may be two. */
  private readonly writes = new Map<number, readonly WriteRecord[]>()

  /** `data`: the real path of the data folder, as it stands in the journals. */
  constructor(readonly data: string) {}

  /** Looks for journals anew: after a start, a recovery, or a write that the database could not be told of. */
  load(): void {
    this.writes.clear()
    for (const write of WriteRecord.ownedBy(this.data)) {
      const change = write.journal.owner!.change
      if (write.isPerformed) this.writes.set(change, [...this.writes.get(change) ?? [], write])
    }
  }

  /** Tells the database of all that it can be told of. */
  async settleAll(): Promise<void> {
    for (const change of [...this.writes.keys()]) {
      const record = await ChangeRecord.findByPk(change)
      if (record) await this.settle(record)
      else this.forget(change)
    }
  }

  /** Makes a record say what became of its change, in the database where that can be, and else in memory. */
  async settle(record: ChangeRecord): Promise<ChangeRecord> {
    const writes = this.writes.get(record.id)
    if (!writes) return record
    let news: News = {}
    for (const write of writes) news = { ...news, ...newsOf(news.state ?? record.state, write) }
    try {
      if (news.state !== undefined) await record.update(news)
      this.forget(record.id)
    } catch {
      record.set(news)
    }
    return record
  }

  private forget(change: number): void {
    const writes = this.writes.get(change) ?? []
    this.writes.delete(change)
    try {
      for (const write of writes) write.letGo()
    } catch {
      // They are found again at the next start, and change nothing then.
    }
  }
}

type News = Partial<Pick<ChangeRecord, 'state' | 'written' | 'madeFolders'>>

/** What a journal says of a change in a state. */
function newsOf(state: ChangeRecord['state'], { journal }: WriteRecord): News {
  if (journal.owner!.action === 'undo') return state === 'written' ? { state: 'undone' } : {}
  if (state !== 'planned') return {}
  return { state: 'written', written: journal.entries.map(({ path, before, after }) => ({ path, before, after })), madeFolders: journal.makes }
}
