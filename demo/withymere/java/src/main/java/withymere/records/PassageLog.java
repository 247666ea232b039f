package withymere.records;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

public class PassageLog {
    private final List<PassageEntry> entries = new ArrayList<>();

    public void add(PassageEntry entry) {
        entries.add(entry);
        Logbook.write("passage", String.format("%s through %s, toll %.2f", entry.craft(), entry.flight(), entry.toll()));
    }

    public List<PassageEntry> forCraft(String craft) {
        return entries.stream().filter(entry -> entry.craft().equals(craft)).toList();
    }

    public List<PassageEntry> between(long from, long to) {
        return entries.stream().filter(entry -> entry.booked() >= from && entry.booked() < to).toList();
    }

    /** The flight with the most passages, or null. */
    public String busiestFlight() {
        Map<String, Integer> counts = new HashMap<>();
        String best = null;
        for (PassageEntry entry : entries) {
            int count = counts.merge(entry.flight(), 1, Integer::sum);
            if (best == null || count > counts.get(best)) {
                best = entry.flight();
            }
        }
        return best;
    }

    public double total() {
        return Math.round(entries.stream().mapToDouble(PassageEntry::toll).sum() * 100) / 100.0;
    }
}
