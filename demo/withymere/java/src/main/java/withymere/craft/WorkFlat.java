package withymere.craft;

/** A flat without an engine, for stone and dredgings. */
public class WorkFlat implements Craft {
    private final String name;
    private final Dimensions size;
    private double load;
    private String place;

    public WorkFlat(String name, Dimensions size) {
        this.name = name;
        this.size = size;
    }

    @Override
    public String name() {
        return name;
    }

    @Override
    public CraftKind kind() {
        return CraftKind.WORK_FLAT;
    }

    @Override
    public Dimensions size() {
        return size;
    }

    @Override
    public int crew() {
        return 0;
    }

    @Override
    public void startEngine() {
    }

    @Override
    public void stopEngine() {
    }

    @Override
    public boolean engineRunning() {
        return false;
    }

    @Override
    public double speed() {
        return 0;
    }

    @Override
    public int pumpOut() {
        throw new UnsupportedOperationException("a work flat has no tank");
    }

    @Override
    public void takeWater(int litres) {
        throw new UnsupportedOperationException("a work flat has no tank");
    }

    @Override
    public int waterLevel() {
        return 0;
    }

    @Override
    public void loadCargo(double tonnes) {
        if (load + tonnes > 40) {
            throw new IllegalStateException(name + " would be overloaded");
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

    @Override
    public void moor(String newPlace) {
        place = newPlace;
    }

    @Override
    public void castOff() {
        place = null;
    }

    @Override
    public String mooredAt() {
        return place;
    }

    @Override
    public String hireReference() {
        return null;
    }

    @Override
    public void tow(Craft other) {
        throw new UnsupportedOperationException("a work flat cannot tow");
    }

    @Override
    public Craft towing() {
        return null;
    }
}
