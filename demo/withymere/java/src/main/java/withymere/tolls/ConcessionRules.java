package withymere.tolls;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

import withymere.craft.Craft;
import withymere.craft.CraftKind;

/** Works out what is taken off a toll, and why. */
public class ConcessionRules {
    private static final Set<Integer> WINTER = Set.of(12, 1, 2);

    private final Set<String> clubs = new HashSet<>();

    public void enrol(String craft) {
        clubs.add(craft);
    }

    public List<Concession> concessionsFor(Craft craft, int locks, LocalDate when) {
        List<Concession> found = new ArrayList<>();
        if (clubs.contains(craft.name())) {
            found.add(new Concession("club member", 0.1));
        }
        if (WINTER.contains(when.getMonthValue())) {
            found.add(new Concession("winter", winterShare(craft.kind())));
        }
        if (locks > 12) {
            found.add(new Concession("long passage", 0.05));
        }
        if (craft.towing() != null) {
            found.add(new Concession("tow", 0.2));
        }
        found.removeIf(one -> one.share() <= 0);
        return found;
    }

    /** Concessions are taken off one after another, and never more than half in all. */
    public double apply(double toll, List<Concession> concessions) {
        double left = 1;
        for (Concession one : concessions) {
            left *= 1 - one.share();
        }
        return Math.round(toll * Math.max(0.5, left) * 100) / 100.0;
    }

    public String explain(List<Concession> concessions) {
        if (concessions.isEmpty()) {
            return "full toll";
        }
        return concessions.stream().map(one -> one.reason() + " -" + Math.round(one.share() * 100) + " %").collect(Collectors.joining(", "));
    }

    private static double winterShare(CraftKind kind) {
        return switch (kind) {
            case HIRE_BOAT -> 0.3;
            case NARROWBOAT -> 0.2;
            case WIDE_BARGE -> 0.1;
            default -> 0;
        };
    }
}
