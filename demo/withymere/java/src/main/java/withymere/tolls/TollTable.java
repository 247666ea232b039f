package withymere.tolls;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.EnumMap;
import java.util.Locale;
import java.util.Map;

import withymere.craft.CraftKind;

/** Rates by kind of craft, per lock. */
public class TollTable {
    private static TollTable loaded;

    private final Map<CraftKind, Double> rates;
    private final double minimum;

    public TollTable(Map<CraftKind, Double> rates, double minimum) {
        this.rates = rates;
        this.minimum = minimum;
    }

    public static TollTable current() {
        if (loaded == null) {
            String file = System.getProperty("withymere.tolls");
            try {
                loaded = file == null ? standard() : parse(Files.readString(Path.of(file)));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
        return loaded;
    }

    public static TollTable parse(String text) {
        Map<CraftKind, Double> rates = new EnumMap<>(CraftKind.class);
        double minimum = 2;
        for (String line : text.split("\n")) {
            String[] parts = line.split("=");
            if (parts.length != 2) {
                continue;
            }
            String name = parts[0].trim();
            double value = Double.parseDouble(parts[1].trim());
            if (name.equals("minimum")) {
                minimum = value;
            } else {
                rates.put(CraftKind.valueOf(name.replace('-', '_').toUpperCase(Locale.ROOT)), value);
            }
        }
        return new TollTable(rates, minimum);
    }

    public static TollTable standard() {
        return new TollTable(Map.of(
            CraftKind.NARROWBOAT, 1.2, CraftKind.WIDE_BARGE, 2.1, CraftKind.WORK_FLAT, 0.6, CraftKind.HIRE_BOAT, 1.6, CraftKind.TUG, 1.4), 2);
    }

    public double rate(CraftKind kind) {
        return rates.getOrDefault(kind, minimum);
    }

    public double minimum() {
        return minimum;
    }
}
