package withymere.booking;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

import withymere.craft.Craft;
import withymere.craft.Dimensions;

/** Craft that share a chamber. */
public class Convoy {
    private final List<Craft> members = new ArrayList<>();
    private final Dimensions chamber;

    public Convoy(Dimensions chamber) {
        this.chamber = chamber;
    }

    /** Puts waiting craft together, in their order, into as few convoys as that allows; what fits into none is left out. */
    public static List<Convoy> form(List<Craft> waiting, Dimensions chamber) {
        List<Convoy> convoys = new ArrayList<>();
        for (Craft craft : waiting) {
            if (!convoys.isEmpty() && convoys.get(convoys.size() - 1).admit(craft)) {
                continue;
            }
            Convoy fresh = new Convoy(chamber);
            if (fresh.admit(craft)) {
                convoys.add(fresh);
            }
        }
        return convoys;
    }

    /** Takes the craft in where it fits beside or behind those that are in already. */
    public boolean admit(Craft craft) {
        if (craft.size().draught() > chamber.draught() || craft.size().beam() > chamber.beam() || rowsWith(craft) > columns()) {
            return false;
        }
        return members.add(craft);
    }

    public List<String> names() {
        return members.stream().map(Craft::name).toList();
    }

    public double slowest() {
        return members.stream().mapToDouble(Craft::speed).min().orElse(0);
    }

    /** How much of the chamber's area is filled, in percent. */
    public long filled() {
        double area = members.stream().mapToDouble(craft -> craft.size().length() * craft.size().beam()).sum();
        return Math.round(area / (chamber.length() * chamber.beam()) * 100);
    }

    private int columns() {
        double widest = members.stream().mapToDouble(craft -> craft.size().beam()).max().orElse(0);
        return widest == 0 ? 1 : Math.max(1, (int) Math.floor(chamber.beam() / widest));
    }

    /** Rows along the chamber, each filled from the gate on. */
    private int rowsWith(Craft craft) {
        List<Craft> all = new ArrayList<>(members);
        all.add(craft);
        all.sort(Comparator.comparingDouble((Craft one) -> one.size().length()).reversed());
        List<Double> rows = new ArrayList<>();
        for (Craft one : all) {
            int at = 0;
            while (at < rows.size() && rows.get(at) + one.size().length() > chamber.length()) {
                at++;
            }
            if (at == rows.size()) {
                rows.add(0.0);
            }
            rows.set(at, rows.get(at) + one.size().length());
        }
        return rows.size();
    }
}
