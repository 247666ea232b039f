package withymere.office;

import java.util.ArrayList;
import java.util.List;

import signalkit.MastLink;
import sluicedisplay.DisplayView;
import withymere.booking.DayReport;
import withymere.booking.PassageDesk;
import withymere.booking.PassageQueue;
import withymere.booking.TollWindow;
import withymere.craft.Dimensions;
import withymere.craft.FleetRegister;
import withymere.locks.KeeperRota;
import withymere.locks.LockFlight;
import withymere.locks.LockKeeper;
import withymere.locks.SwingBridge;
import withymere.notices.NoticeBoard;
import withymere.notices.RadioSender;
import withymere.panel.DeskPanel;
import withymere.panel.GaugePanel;
import withymere.panel.LockPanel;
import withymere.records.LedgerBook;
import withymere.records.Logbook;
import withymere.records.PassageLog;
import withymere.water.Gauge;
import withymere.water.GaugeReader;
import withymere.water.LevelTable;
import withymere.water.WaterBudget;

/** The whole office, from the queue to the panels. */
public class Office {
    final PassageQueue queue = new PassageQueue();
    final NoticeBoard board = new NoticeBoard();
    final LedgerBook ledger = new LedgerBook();
    final PassageLog log = new PassageLog();
    final LevelTable levels = new LevelTable();
    final FleetRegister register = new FleetRegister();
    final KeeperRota rota = new KeeperRota();
    final OpeningHours hours = new OpeningHours(new OpeningHours.Span(7, 20), new OpeningHours.Span(9, 16));
    final SwingBridge bridge = new SwingBridge("Osier Lane bridge", 0);
    final WaterBudget budget;
    final List<LockFlight> flights;
    final PassageDesk desk;
    final GaugeReader reader;
    final RadioSender sender;
    final TollWindow window;

    public Office(Settings settings, List<Gauge> gauges) {
        Logbook.openIn(settings.logFolder());
        budget = new WaterBudget(levels, settings.waterPerDay());
        flights = List.of(new LockFlight("Teasel Rise", "upper", budget, levels), new LockFlight("Bulrush Steps", "lower", budget, levels));
        flights.get(0).build(5, new Dimensions(22, 2.3, 1.4));
        flights.get(1).build(3, new Dimensions(24, 4.6, 1.6));
        MastLink mast = new MastLink(settings.mastHost(), settings.mastPort());
        desk = new PassageDesk(queue, flights, register, rota, board, ledger, log, budget, levels, settings.receiptFolder(), mast);
        reader = new GaugeReader(gauges, levels, desk);
        sender = new RadioSender(settings.mastHost(), settings.mastPort(), 2);
        window = new TollWindow(ledger, log, settings.receiptFolder());
    }

    public int open(List<String> keepers) {
        int channel = 20;
        for (String name : keepers) {
            LockKeeper keeper = new LockKeeper(name, channel++);
            keeper.startShift();
            rota.hire(keeper);
        }
        return rota.fill(flights);
    }

    public List<DisplayView> panels() {
        List<DisplayView> panels = new ArrayList<>();
        for (LockFlight flight : flights) {
            panels.add(new LockPanel(flight, levels));
        }
        panels.add(new GaugePanel(levels, 6));
        panels.add(new DeskPanel(desk, board));
        return panels;
    }

    public String close() {
        for (LockFlight flight : flights) {
            LockKeeper keeper = flight.relieve();
            if (keeper != null) {
                keeper.endShift();
            }
        }
        DayReport report = new DayReport(desk, log, ledger);
        Logbook.write("office", "closed");
        return report.text();
    }
}
