package withymere.booking;

import java.time.Instant;
import java.time.temporal.ChronoUnit;

import withymere.records.LedgerBook;
import withymere.records.PassageLog;

/** What the office prints at closing time. */
public class DayReport {
    private final PassageDesk desk;
    private final PassageLog log;
    private final LedgerBook ledger;

    public DayReport(PassageDesk desk, PassageLog log, LedgerBook ledger) {
        this.desk = desk;
        this.log = log;
        this.ledger = ledger;
    }

    public String text() {
        Instant day = Instant.now().truncatedTo(ChronoUnit.DAYS);
        int passages = log.between(day.toEpochMilli(), day.plus(1, ChronoUnit.DAYS).toEpochMilli()).size();
        String busiest = log.busiestFlight();
        return String.join("\n", "Withymere Navigation, " + day.toString().substring(0, 10), passages + " passages, " + desk.pending() + " waiting",
            "busiest: " + (busiest == null ? "none" : busiest), ledger.statement("tolls"));
    }
}
