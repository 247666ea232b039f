package withymere.craft;

import java.util.ArrayList;
import java.util.List;

public class WideBarge extends PoweredCraft {
    private final List<Double> holds = new ArrayList<>();

    public WideBarge(String name, Dimensions size, int crew) {
        super(name, size, crew, 5);
    }

    @Override
    public CraftKind kind() {
        return CraftKind.WIDE_BARGE;
    }

    @Override
    public void loadCargo(double tonnes) {
        if (cargo() + tonnes > 60) {
            throw new IllegalStateException(name() + " would be overloaded");
        }
        holds.add(tonnes);
    }

    @Override
    public double unloadCargo() {
        double tonnes = cargo();
        holds.clear();
        return tonnes;
    }

    @Override
    public double cargo() {
        return holds.stream().mapToDouble(Double::doubleValue).sum();
    }
}
