package withymere.water;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;

/** Levels by reach, in metres over the sill. */
public class LevelTable {
    public static final LevelTable SHARED = new LevelTable();

    private final Map<String, List<Double>> levels = new HashMap<>();

    public void record(String reach, double level) {
        levels.computeIfAbsent(reach, name -> new ArrayList<>()).add(level);
    }

    public OptionalDouble latest(String reach) {
        List<Double> series = levels.get(reach);
        return series == null ? OptionalDouble.empty() : OptionalDouble.of(series.get(series.size() - 1));
    }

    public OptionalDouble mean(String reach, int samples) {
        List<Double> series = levels.getOrDefault(reach, List.of());
        return series.subList(Math.max(0, series.size() - samples), series.size()).stream().mapToDouble(Double::doubleValue).average();
    }

    public boolean falling(String reach) {
        List<Double> series = levels.getOrDefault(reach, List.of());
        int size = series.size();
        return size >= 3 && series.get(size - 3) > series.get(size - 2) && series.get(size - 2) > series.get(size - 1);
    }

    public List<String> reaches() {
        return levels.keySet().stream().sorted().toList();
    }
}
