package withymere.craft;

/** Anything that floats on the navigation and needs a passage. */
public interface Craft {
    String name();

    CraftKind kind();

    Dimensions size();

    int crew();

    void startEngine();

    void stopEngine();

    boolean engineRunning();

    double speed();

    int pumpOut();

    void takeWater(int litres);

    int waterLevel();

    void loadCargo(double tonnes);

    double unloadCargo();

    double cargo();

    void moor(String place);

    void castOff();

    /** The place, or null under way. */
    String mooredAt();

    String hireReference();

    void tow(Craft other);

    Craft towing();
}
