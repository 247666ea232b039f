package withymere.water;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.TreeMap;

import withymere.records.Logbook;

/** Says by levels and rain whether craft should stay where they are. */
public class FloodWatch {
    /** Levels from which a reach is watched, and from which it is closed. */
    public record Limits(double watch, double stop) {
    }

    private final LevelTable levels = LevelTable.SHARED;
    private final Map<String, Limits> limits = new TreeMap<>();
    private final Map<String, FloodState> told = new HashMap<>();
    private final Rainfall rain = new Rainfall();

    public Rainfall rain() {
        return rain;
    }

    public void setLimits(String reach, Limits wanted) {
        if (wanted.stop() <= wanted.watch()) {
            throw new IllegalArgumentException("the limits of " + reach + " are the wrong way round");
        }
        limits.put(reach, wanted);
    }

    public FloodState state(String reach) {
        Limits known = limits.get(reach);
        OptionalDouble level = levels.latest(reach);
        if (known == null || level.isEmpty()) {
            return FloodState.CALM;
        }
        double expected = level.getAsDouble() + rise();
        if (level.getAsDouble() >= known.stop() || expected >= known.stop() * 1.1) {
            return FloodState.STOP;
        }
        return expected >= known.watch() ? FloodState.WATCH : FloodState.CALM;
    }

    /** Metres by which wet ground will lift the water within a day. */
    public double rise() {
        double wetness = rain.wetness();
        return wetness < 15 ? 0 : Math.round(Math.min(0.6, (wetness - 15) * 0.01) * 100) / 100.0;
    }

    /** Looks at every reach, and tells of those whose state is another than at the last look. */
    public List<String> look() {
        List<String> changed = new ArrayList<>();
        for (String reach : limits.keySet()) {
            FloodState state = state(reach);
            if (state == told.getOrDefault(reach, FloodState.CALM)) {
                continue;
            }
            told.put(reach, state);
            changed.add(reach + ": " + state);
            if (state == FloodState.STOP) {
                Logbook.alarm("flood", reach + " is closed");
            } else {
                Logbook.write("flood", reach + " is " + state);
            }
        }
        return changed;
    }
}
