import { Logbook } from '../records/logbook.js';
import { Lock } from './lock.js';

export type JobKind = 'grease' | 'paddle' | 'gate' | 'dredge';

export interface MaintenanceJob {
  readonly lock: string;
  readonly kind: JobKind;
  readonly hours: number;
  done: boolean;
}

/** What is to be done at the locks, and when there are hands for it. */
export class MaintenancePlan {
  private readonly jobs: MaintenanceJob[] = [];
  private readonly passages = new Map<string, number>();

  report(lock: string, kind: JobKind): MaintenanceJob {
    const known = this.jobs.find(job => !job.done && job.lock === lock && job.kind === kind);
    if (known) return known;
    const job: MaintenanceJob = { lock, kind, hours: this.hoursFor(kind), done: false };
    this.jobs.push(job);
    Logbook.write('maintenance', `${kind} at ${lock}`);
    return job;
  }

  /** Counts a passage; hinges want grease after two hundred of them. */
  count(lock: string): void {
    const passages = (this.passages.get(lock) ?? 0) + 1;
    this.passages.set(lock, passages);
    if (passages % 200 === 0) this.report(lock, 'grease');
  }

  finish(lock: string, kind: JobKind): void {
    const job = this.jobs.find(one => !one.done && one.lock === lock && one.kind === kind);
    if (!job) throw new Error(`nothing to do at ${lock}: ${kind}`);
    job.done = true;
    Logbook.write('maintenance', `${kind} at ${lock} done`);
  }

  open(): readonly MaintenanceJob[] {
    return this.jobs.filter(job => !job.done).sort((a, b) => this.urgency(b) - this.urgency(a) || a.lock.localeCompare(b.lock));
  }

  /** The jobs that fit into a day, the most urgent first. */
  day(hands: number): MaintenanceJob[] {
    let left = hands * 8;
    return this.open().filter(job => {
      if (job.hours > left) return false;
      left -= job.hours;
      return true;
    });
  }

  needsStoppage(lock: string): boolean {
    return this.open().some(job => job.lock === lock && (job.kind === 'gate' || job.kind === 'dredge'));
  }

  /** What the crew reads before it goes out to a lock. */
  crewNote(lock: Lock): string {
    const above = lock.above();
    const water = lock.isFull() ? `full, ${lock.volume()} m3 to drain` : 'empty';
    return `lock ${lock.number}, ${lock.chamber.length} m, ${water}${above === undefined ? '' : `, below lock ${above.number}`}`;
  }

  private urgency(job: MaintenanceJob): number {
    const order: Record<JobKind, number> = { gate: 4, paddle: 3, dredge: 2, grease: 1 };
    return order[job.kind] + Math.min(1, (this.passages.get(job.lock) ?? 0) / 1000);
  }

  private hoursFor(kind: JobKind): number {
    switch (kind) {
      case 'grease': return 1;
      case 'paddle': return 4;
      case 'gate': return 16;
      case 'dredge': return 24;
    }
  }
}
