package withymere.craft;

public class Tug extends PoweredCraft {
    private Craft behind;

    public Tug(String name, Dimensions size, int crew) {
        super(name, size, crew, 8);
    }

    @Override
    public CraftKind kind() {
        return CraftKind.TUG;
    }

    @Override
    public void tow(Craft other) {
        if (other == this) {
            throw new IllegalArgumentException(name() + " cannot tow itself");
        }
        if (behind != null) {
            throw new IllegalStateException(name() + " tows " + behind.name() + " already");
        }
        behind = other;
    }

    @Override
    public Craft towing() {
        return behind;
    }

    public Craft letGo() {
        Craft released = behind;
        behind = null;
        return released;
    }
}
