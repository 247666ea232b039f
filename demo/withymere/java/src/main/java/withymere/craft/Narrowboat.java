package withymere.craft;

public class Narrowboat extends PoweredCraft {
    private double load;

    public Narrowboat(String name, Dimensions size, int crew) {
        super(name, size, crew, 6);
    }

    @Override
    public CraftKind kind() {
        return CraftKind.NARROWBOAT;
    }

    @Override
    public void loadCargo(double tonnes) {
        if (load + tonnes > 25) {
            throw new IllegalStateException(name() + " would be overloaded");
        }
        load += tonnes;
    }

    @Override
    public double unloadCargo() {
        double tonnes = load;
        load = 0;
        return tonnes;
    }

    @Override
    public double cargo() {
        return load;
    }
}
