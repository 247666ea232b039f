package withymere.booking;

import java.io.IOException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

import signalkit.Frame;
import signalkit.MastLink;
import withymere.craft.FleetRegister;
import withymere.locks.KeeperRota;
import withymere.locks.LockFlight;
import withymere.notices.LowWaterNotice;
import withymere.notices.NoticeBoard;
import withymere.records.LedgerBook;
import withymere.records.Logbook;
import withymere.records.PassageEntry;
import withymere.records.PassageLog;
import withymere.tolls.Receipt;
import withymere.tolls.TollCalculator;
import withymere.water.LevelTable;
import withymere.water.WaterBudget;

/** Takes bookings, works the queue and settles the tolls. */
public class PassageDesk {
    private final TollCalculator calculator = new TollCalculator();
    private final PassagePlanner planner = new PassagePlanner(this);
    private final Map<String, Integer> delays = new HashMap<>();
    private final PassageQueue queue;
    private final List<LockFlight> flights;
    private final FleetRegister register;
    private final KeeperRota rota;
    private final NoticeBoard board;
    private final LedgerBook ledger;
    private final PassageLog log;
    private final WaterBudget budget;
    private final LevelTable levels;
    private final Path receiptFolder;
    private final MastLink mast;
    private int receiptNumber = 1000;
    private long lastRadio;

    public PassageDesk(PassageQueue queue, List<LockFlight> flights, FleetRegister register, KeeperRota rota, NoticeBoard board,
            LedgerBook ledger, PassageLog log, WaterBudget budget, LevelTable levels, Path receiptFolder, MastLink mast) {
        this.queue = queue;
        this.flights = flights;
        this.register = register;
        this.rota = rota;
        this.board = board;
        this.ledger = ledger;
        this.log = log;
        this.budget = budget;
        this.levels = levels;
        this.receiptFolder = receiptFolder;
        this.mast = mast;
    }

    public int book(PassageRequest request) {
        LockFlight flight = flightNamed(request.flight());
        if (!flight.isOpen()) {
            throw new RequestRefusedException(request, flight.name() + " is closed");
        }
        if (!flight.takes(request.craft().size())) {
            throw new RequestRefusedException(request, "too large for " + flight.name());
        }
        if (request.wantedAt() < System.currentTimeMillis() - 60_000) {
            throw new RequestRefusedException(request, "that time is over");
        }
        register.find(request.craft().name());
        int place = queue.join(request);
        Logbook.write("desk", request.craft().name() + " booked, place " + place);
        return place;
    }

    public boolean cancel(String craft) {
        boolean left = queue.leave(craft);
        if (left) {
            Logbook.write("desk", craft + " cancelled");
        }
        return left;
    }

    public int pending() {
        return queue.length();
    }

    public int planDay(String flightName) {
        LockFlight flight = flightNamed(flightName);
        rota.fill(List.of(flight));
        return planner.plan(queue.forFlight(flightName), flight).size();
    }

    /** The craft that went through, or null. */
    public String workNext() throws IOException {
        PassageRequest request = queue.next();
        if (request == null) {
            return null;
        }
        LockFlight flight = flightNamed(request.flight());
        double toll = calculator.tollFor(request.craft(), flight.count());
        if (!budget.allows(flight.reach(), flight.waterFor(flight.count()))) {
            queue.join(new PassageRequest(request.craft(), request.flight(), request.direction(), System.currentTimeMillis() + 3_600_000));
            Logbook.warn("desk", request.craft().name() + " waits for water");
            return null;
        }
        flight.pass(request.craft().size(), request.direction());
        settle(request, toll, flight);
        radio(flight, request.craft().name() + " is through");
        return request.craft().name();
    }

    public void lowWater(String reach, double level, double floor) {
        board.pin(new LowWaterNotice(reach, level, floor));
        for (LockFlight flight : flights) {
            if (!flight.reach().equals(reach)) {
                continue;
            }
            delays.merge(flight.name(), 20, Integer::sum);
            if (level < floor / 2) {
                flight.closeFor(6);
            }
        }
    }

    public int delay(String flight) {
        return delays.getOrDefault(flight, 0);
    }

    public int expectedWait(String flightName) {
        LockFlight flight = flightNamed(flightName);
        boolean low = levels.latest(flight.reach()).orElse(2) < 1;
        return flight.waitingTime(queue.forFlight(flightName).size()) + (low ? 30 : 0) + delay(flightName);
    }

    private void settle(PassageRequest request, double toll, LockFlight flight) {
        receiptNumber++;
        Receipt receipt = new Receipt(receiptNumber, receiptFolder);
        receipt.add(request.craft().name() + ", " + flight.count() + " locks", toll);
        receipt.store();
        ledger.credit("tolls", receipt.total(), request.craft().name());
        log.add(new PassageEntry(request.craft().name(), flight.name(), request.wantedAt(), receipt.total()));
    }

    private void radio(LockFlight flight, String text) {
        long now = System.currentTimeMillis();
        if (now - lastRadio < 500) {
            return;
        }
        lastRadio = now;
        try {
            mast.send(new Frame(5, "desk").append("flight", flight.name()).append("text", text));
        } catch (IOException e) {
            Logbook.warn("desk", "the mast does not answer");
        }
    }

    private LockFlight flightNamed(String name) {
        return flights.stream().filter(one -> one.name().equals(name)).findFirst()
            .orElseThrow(() -> new IllegalArgumentException("there is no flight " + name));
    }
}
