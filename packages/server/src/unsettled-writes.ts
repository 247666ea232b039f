import { WriteRecord } from '@hollowmoor/host/write-journal'
import { ChangeRecord } from './store/database.js'

/**
 * Writes of this data folder's changes that are done on the files and not yet in the database: a crash came between, or the
 * disk of the data folder is full. Until the database can be told, their journals say what is true of the change.
 */
export class UnsettledWrites {
  private readonly writes = new Map<number, WriteRecord>()

  /** `data`: the real path of the data folder, as it stands in the journals. */
  constructor(readonly data: string) {}

  /** Looks for journals anew: after a start, a recovery, or a write that the database could not be told of. */
  load(): void {
    for (const write of WriteRecord.ownedBy(this.data)) {
      if (write.stage === 'performed' && write.journal.owner) this.writes.set(write.journal.owner.change, write)
    }
  }

  /** Tells the database of all that it can be told of. */
  async settleAll(): Promise<void> {
    for (const [change, write] of [...this.writes]) {
      const record = await ChangeRecord.findByPk(change)
      if (record) await this.settle(record)
      else this.forget(change, write)
    }
  }

  /** Makes a record say what became of its change, in the database where that can be, and else in memory. */
  async settle(record: ChangeRecord): Promise<ChangeRecord> {
    const write = this.writes.get(record.id)
    const news = write && newsOf(record, write)
    if (!write) return record
    try {
      if (news) await record.update(news)
      this.forget(record.id, write)
    } catch {
      if (news) record.set(news)
    }
    return record
  }

  private forget(change: number, write: WriteRecord): void {
    this.writes.delete(change)
    try {
      write.letGo()
    } catch {
      // It is found again at the next start, and changes nothing then.
    }
  }
}

/** What a journal says of a change that its record does not say yet. */
function newsOf(record: ChangeRecord, { journal }: WriteRecord): Partial<Pick<ChangeRecord, 'state' | 'written' | 'madeFolders'>> | null {
  if (journal.owner!.action === 'undo') return record.state === 'written' ? { state: 'undone' } : null
  if (record.state !== 'planned') return null
  return { state: 'written', written: journal.entries.map(({ path, before, after }) => ({ path, before, after })), madeFolders: journal.makes }
}
