/**
 * A lock among processes that the system takes away with the process that holds it, however that ends. It is the exclusive
 * lock of an empty SQLite database: nothing is ever written to the file, so a full disk makes no difference to it.
 */
export class HeldLock {
  private constructor(private readonly database: { close(done?: (error: Error | null) => void): void }) {}

  /** Null where another holds it. Throws where the file cannot be made. The folder has to be there. */
  static async tryAcquire(file: string): Promise<HeldLock | null> {
    // Loaded by the first who locks: most commands never do.
    const { default: sqlite } = await import('sqlite3')
    return new Promise((resolve, reject) => {
      const database = new sqlite.Database(file, failed => {
        if (failed) {
          reject(failed)
          return
        }
        database.exec('PRAGMA busy_timeout = 0; BEGIN EXCLUSIVE', error => {
          if (!error) {
            resolve(new HeldLock(database))
            return
          }
          const isHeld = (error as NodeJS.ErrnoException).code === 'SQLITE_BUSY'
          database.close(() => (isHeld ? resolve(null) : reject(error)))
        })
      })
    })
  }

  /** Waits for the lock; null where it is not to be had in time. */
  static async acquire(file: string, milliseconds: number): Promise<HeldLock | null> {
    const end = Date.now() + milliseconds
    for (;;) {
      const lock = await HeldLock.tryAcquire(file)
      if (lock || Date.now() >= end) return lock
      await new Promise(resolve => setTimeout(resolve, 20))
    }
  }

  /** Gives the lock back. */
  release(): Promise<void> {
    return new Promise(resolve => this.database.close(() => resolve()))
  }
}
