package withymere.craft;

public class HireBoat extends PoweredCraft {
    private final String reference;

    public HireBoat(String name, Dimensions size, int crew, String reference) {
        super(name, size, crew, 5);
        this.reference = reference;
    }

    @Override
    public CraftKind kind() {
        return CraftKind.HIRE_BOAT;
    }

    @Override
    public String hireReference() {
        return reference;
    }
}
