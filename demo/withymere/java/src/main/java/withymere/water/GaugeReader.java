package withymere.water;

import java.util.List;
import java.util.TreeSet;

import withymere.booking.PassageDesk;
import withymere.records.Logbook;

/** Reads the gauges and tells the desk when a reach runs low. */
public class GaugeReader {
    private final TreeSet<String> low = new TreeSet<>();
    private final List<Gauge> gauges;
    private final LevelTable table;
    private final PassageDesk desk;

    public GaugeReader(List<Gauge> gauges, LevelTable table, PassageDesk desk) {
        this.gauges = gauges;
        this.table = table;
        this.desk = desk;
    }

    public int sweep() {
        int alarms = 0;
        for (Gauge gauge : gauges) {
            double level = gauge.read();
            if (Double.isNaN(level)) {
                Logbook.alarm("gauge", gauge.reach() + " does not answer");
                continue;
            }
            table.record(gauge.reach(), level);
            if (level < gauge.floor() && low.add(gauge.reach())) {
                desk.lowWater(gauge.reach(), level, gauge.floor());
                alarms++;
            } else if (level >= gauge.floor()) {
                low.remove(gauge.reach());
            }
        }
        return alarms;
    }

    public List<String> lowReaches() {
        return List.copyOf(low);
    }
}
