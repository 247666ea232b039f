package withymere.craft;

import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

import withymere.records.Logbook;

public class FleetRegister {
    private final Map<String, Craft> byName = new LinkedHashMap<>();

    public void enter(Craft craft) {
        if (byName.putIfAbsent(craft.name(), craft) != null) {
            throw new IllegalStateException(craft.name() + " is on the register already");
        }
        Logbook.write("fleet", craft.name() + " entered, " + craft.size().displacement() + " t");
    }

    public void strike(String name) {
        if (byName.remove(name) == null) {
            throw new IllegalStateException(name + " is not on the register");
        }
        Logbook.write("fleet", name + " struck off");
    }

    public Craft find(String name) {
        Craft craft = byName.get(name);
        if (craft == null) {
            throw new IllegalStateException(name + " is not on the register");
        }
        return craft;
    }

    public List<Craft> ofKind(CraftKind kind) {
        return byName.values().stream().filter(craft -> craft.kind() == kind).toList();
    }

    public int count() {
        return byName.size();
    }

    /** Craft that are moored at a place, the longest first. */
    public List<Craft> mooredAt(String place) {
        return byName.values().stream()
            .filter(craft -> place.equals(craft.mooredAt()))
            .sorted(Comparator.comparingDouble((Craft craft) -> craft.size().length()).reversed())
            .toList();
    }
}
