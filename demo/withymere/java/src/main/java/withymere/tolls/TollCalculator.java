package withymere.tolls;

import java.util.HashSet;
import java.util.Set;

import withymere.craft.Craft;
import withymere.records.Logbook;

public class TollCalculator {
    private final Set<String> waived = new HashSet<>();

    public double tollFor(Craft craft, int locks) {
        if (waived.contains(craft.name())) {
            return 0;
        }
        TollTable table = TollTable.current();
        double base = table.rate(craft.kind()) * locks;
        double toll = switch (craft.kind()) {
            case WIDE_BARGE -> base + craft.cargo() * 0.15;
            case NARROWBOAT -> base + craft.cargo() * 0.1;
            case WORK_FLAT -> base / 2;
            case HIRE_BOAT -> craft.hireReference() == null ? base * 2 : base;
            case TUG -> craft.towing() == null ? base : base * 1.5;
        };
        return Math.max(table.minimum(), Math.round(toll * 100) / 100.0);
    }

    public void waive(String name, String reason) {
        waived.add(name);
        Logbook.warn("tolls", "waived for " + name + ": " + reason);
    }
}
