package withymere.craft;

import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import withymere.records.Logbook;

/** Where craft lie overnight, berth by berth. */
public class MooringPlan {
    private final Map<String, Craft> taken = new HashMap<>();
    private final String place;
    private final List<Berth> berths;

    public MooringPlan(String place, List<Berth> berths) {
        this.place = place;
        this.berths = berths;
    }

    /** The shortest free berth that holds the craft. */
    public Optional<Berth> proposal(Craft craft, boolean serviced) {
        return berths.stream()
            .filter(berth -> !taken.containsKey(berth.name()))
            .filter(berth -> berth.length() >= craft.size().length() && berth.depth() > craft.size().draught())
            .filter(berth -> !serviced || berth.serviced())
            .min(Comparator.comparingDouble(Berth::length).thenComparing(Berth::name));
    }

    public Berth assign(Craft craft, boolean serviced) {
        Berth berth = proposal(craft, serviced).orElseThrow(() -> new IllegalStateException("no berth at " + place + " for " + craft.name()));
        taken.put(berth.name(), craft);
        craft.moor(place + "/" + berth.name());
        Logbook.write("mooring", craft.name() + " at " + place + ", berth " + berth.name());
        return berth;
    }

    public void leave(Craft craft) {
        if (taken.values().removeIf(other -> other.name().equals(craft.name()))) {
            craft.castOff();
            Logbook.write("mooring", craft.name() + " left " + place);
        } else {
            Logbook.warn("mooring", craft.name() + " was not at " + place);
        }
    }

    public int free() {
        return berths.size() - taken.size();
    }

    /** Who lies where, in the order of the berths. */
    public List<String> board() {
        return berths.stream().map(berth -> {
            Craft craft = taken.get(berth.name());
            return berth.name() + ": " + (craft == null ? "free" + (berth.serviced() ? " (water and power)" : "") : craft.name());
        }).toList();
    }
}
