package withymere.water;

import withymere.records.Logbook;

/** What a day of lockings may cost in water. */
public class WaterBudget {
    private final LevelTable table;
    private final int perDay;
    private int spent;

    public WaterBudget(LevelTable table, int perDay) {
        this.table = table;
        this.perDay = perDay;
    }

    public void spend(String reach, int cubicMetres) {
        if (!allows(reach, cubicMetres)) {
            Logbook.warn("budget", reach + ": " + cubicMetres + " m3 refused");
            throw new IllegalStateException("no water for " + reach + " today");
        }
        spent += cubicMetres;
    }

    public boolean allows(String reach, int cubicMetres) {
        double factor = table.falling(reach) ? 0.5 : 1;
        return spent + cubicMetres <= perDay * factor;
    }

    public int left() {
        return Math.max(0, perDay - spent);
    }

    public void newDay() {
        spent = 0;
    }
}
