package withymere.records;

import java.util.List;

/** Which entries the trust has to keep, and for how long. */
public class Retention {
    private static final long YEAR = 365L * 24 * 3600 * 1000;

    private final PassageLog log;
    private final int years;

    public Retention(PassageLog log, int years) {
        this.log = log;
        this.years = years;
    }

    public List<PassageEntry> due() {
        long limit = System.currentTimeMillis() - years * YEAR;
        List<PassageEntry> due = log.between(0, limit);
        if (!due.isEmpty()) {
            Logbook.write("retention", due.size() + " entries may go");
        }
        return due;
    }
}
