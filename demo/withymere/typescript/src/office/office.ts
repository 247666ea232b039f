import { MastLink } from 'signal-kit';
import { DayReport } from '../booking/day-report.js';
import { PassageDesk } from '../booking/passage-desk.js';
import { Queue } from '../booking/queue.js';
import { TollWindow } from '../booking/toll-window.js';
import { FleetRegister } from '../craft/fleet-register.js';
import { KeeperRota } from '../locks/keeper-rota.js';
import { LockFlight } from '../locks/lock-flight.js';
import { LockKeeper } from '../locks/lock-keeper.js';
import { SwingBridge } from '../locks/swing-bridge.js';
import { NoticeBoard } from '../notices/notice-board.js';
import { RadioSender } from '../notices/radio-sender.js';
import { DeskPanel } from '../panel/desk-panel.js';
import { GaugePanel } from '../panel/gauge-panel.js';
import { LockPanel } from '../panel/lock-panel.js';
import { LedgerBook } from '../records/ledger-book.js';
import { Logbook } from '../records/logbook.js';
import { PassageLog } from '../records/passage-log.js';
import { Gauge, GaugeReader } from '../water/gauge-reader.js';
import { LevelTable } from '../water/level-table.js';
import { WaterBudget } from '../water/water-budget.js';
import { OpeningHours } from './opening-hours.js';
import { Settings } from './settings.js';

/** The whole office, from the queue to the panels. */
export class Office {
  readonly queue = new Queue();
  readonly board = new NoticeBoard();
  readonly ledger = new LedgerBook();
  readonly log = new PassageLog();
  readonly levels = new LevelTable();
  readonly register = new FleetRegister();
  readonly rota = new KeeperRota();
  readonly hours = new OpeningHours([7, 20], [9, 16]);
  readonly bridge = new SwingBridge('Osier Lane bridge', 0);
  readonly budget: WaterBudget;
  readonly flights: LockFlight[];
  readonly desk: PassageDesk;
  readonly reader: GaugeReader;
  readonly sender: RadioSender;
  readonly window: TollWindow;

  constructor(settings: Settings, gauges: readonly Gauge[]) {
    Logbook.openIn(settings.logFolder);
    this.budget = new WaterBudget(this.levels, settings.waterPerDay);
    this.flights = [
      new LockFlight('Teasel Rise', 'upper', this.budget, this.levels),
      new LockFlight('Bulrush Steps', 'lower', this.budget, this.levels),
    ];
    this.flights[0]!.build(5, { length: 22, beam: 2.3, draught: 1.4 });
    this.flights[1]!.build(3, { length: 24, beam: 4.6, draught: 1.6 });
    const mast = new MastLink(settings.mastHost, settings.mastPort);
    this.desk = new PassageDesk(
      this.queue, this.flights, this.register, this.rota, this.board, this.ledger, this.log, this.budget, this.levels,
      settings.receiptFolder, mast,
    );
    this.reader = new GaugeReader(gauges, this.levels, this.desk);
    this.sender = new RadioSender(settings.mastHost, settings.mastPort, 2);
    this.window = new TollWindow(this.ledger, this.log, settings.receiptFolder);
  }

  open(keepers: readonly string[]): number {
    keepers.forEach((name, index) => {
      const keeper = new LockKeeper(name, 20 + index);
      keeper.startShift();
      this.rota.hire(keeper);
    });
    return this.rota.fill(this.flights);
  }

  panels() {
    return [...this.flights.map(flight => new LockPanel(flight, this.levels)), new GaugePanel(this.levels, 6), new DeskPanel(this.desk, this.board)];
  }

  close(): string {
    for (const flight of this.flights) flight.relieve()?.endShift();
    const report = new DayReport(this.desk, this.log, this.ledger);
    Logbook.write('office', 'closed');
    return report.text();
  }
}
