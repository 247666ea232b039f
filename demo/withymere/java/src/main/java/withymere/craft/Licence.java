package withymere.craft;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;

import withymere.records.Logbook;

/** What a craft needs to be on the navigation: paid for, and inspected now and then. */
public class Licence {
    private final String craft;
    private final CraftKind kind;
    private final LocalDate from;
    private final int months;
    private final List<String> faults = new ArrayList<>();
    private LocalDate lastInspection;
    private boolean withdrawn;

    public Licence(String craft, CraftKind kind, LocalDate from, int months) {
        this.craft = craft;
        this.kind = kind;
        this.from = from;
        this.months = months;
    }

    public LocalDate expires() {
        return from.plusMonths(months);
    }

    public boolean valid() {
        LocalDate today = LocalDate.now();
        if (withdrawn || today.isBefore(from) || !today.isBefore(expires())) {
            return false;
        }
        return faults.isEmpty() || !overdue();
    }

    public long daysLeft() {
        return Math.max(0, ChronoUnit.DAYS.between(LocalDate.now(), expires()));
    }

    /** Years between two inspections. */
    public int interval() {
        switch (kind) {
            case HIRE_BOAT:
                return 1;
            case TUG:
                return 2;
            case WIDE_BARGE:
                return 3;
            case NARROWBOAT:
                return 4;
            default:
                return 5;
        }
    }

    public boolean overdue() {
        return lastInspection == null || lastInspection.plusYears(interval()).isBefore(LocalDate.now());
    }

    public boolean inspect(List<String> found) {
        lastInspection = LocalDate.now();
        faults.clear();
        faults.addAll(found);
        if (found.isEmpty()) {
            Logbook.write("licence", craft + " passed");
            return true;
        }
        Logbook.warn("licence", craft + " has " + found.size() + " faults: " + String.join(", ", found));
        return false;
    }

    public void repair(String fault) {
        if (!faults.remove(fault)) {
            throw new IllegalStateException(craft + " has no fault \"" + fault + "\"");
        }
        if (faults.isEmpty()) {
            Logbook.write("licence", craft + " is repaired");
        }
    }

    public void withdraw(String reason) {
        withdrawn = true;
        Logbook.alarm("licence", craft + " withdrawn: " + reason);
    }
}
