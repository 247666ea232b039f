package withymere.water;

import withymere.records.Logbook;

public class SluiceController {
    private final LevelTable table;
    private final String reach;
    private final int steps;
    private int open;

    public SluiceController(LevelTable table, String reach, int steps) {
        this.table = table;
        this.reach = reach;
        this.steps = steps;
    }

    public int adjust(double target) {
        double level = table.mean(reach, 5).orElse(target);
        int wanted = (int) Math.round((target - level) * 20);
        int next = Math.min(steps, Math.max(0, open + wanted));
        if (next != open) {
            Logbook.write("sluice", reach + ": " + open + " to " + next);
        }
        open = next;
        return next;
    }

    public int position() {
        return open;
    }

    /** Drops everything to let a flood through. */
    public void flood() {
        open = steps;
        Logbook.alarm("sluice", reach + ": fully open");
    }
}
