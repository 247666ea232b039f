package withymere.craft;

public abstract class PoweredCraft implements Craft {
    private final String name;
    private final Dimensions size;
    private final int crew;
    private final double topSpeed;
    private boolean running;
    private String place;
    private int tank;
    private int waste;

    protected PoweredCraft(String name, Dimensions size, int crew, double topSpeed) {
        this.name = name;
        this.size = size;
        this.crew = crew;
        this.topSpeed = topSpeed;
    }

    @Override
    public String name() {
        return name;
    }

    @Override
    public Dimensions size() {
        return size;
    }

    @Override
    public int crew() {
        return crew;
    }

    @Override
    public void startEngine() {
        if (crew < 1) {
            throw new IllegalStateException(name + " has nobody aboard");
        }
        running = true;
    }

    @Override
    public void stopEngine() {
        running = false;
    }

    @Override
    public boolean engineRunning() {
        return running;
    }

    @Override
    public double speed() {
        if (!running || place != null) {
            return 0;
        }
        return towing() == null ? topSpeed : topSpeed / 2;
    }

    @Override
    public int pumpOut() {
        int litres = waste;
        waste = 0;
        return litres;
    }

    @Override
    public void takeWater(int litres) {
        if (litres <= 0) {
            throw new IllegalArgumentException("water is taken in whole litres above none");
        }
        tank += litres;
        waste += Math.round(litres * 0.6f);
    }

    @Override
    public int waterLevel() {
        return tank;
    }

    @Override
    public void loadCargo(double tonnes) {
        throw new UnsupportedOperationException(name + " carries no cargo");
    }

    @Override
    public double unloadCargo() {
        return 0;
    }

    @Override
    public double cargo() {
        return 0;
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
        throw new UnsupportedOperationException(name + " cannot tow");
    }

    @Override
    public Craft towing() {
        return null;
    }
}
