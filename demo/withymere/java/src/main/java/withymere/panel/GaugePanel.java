package withymere.panel;

import sluicedisplay.DisplayView;
import withymere.water.LevelTable;

public class GaugePanel extends DisplayView {
    private final LevelTable levels;
    private final int rows;

    public GaugePanel(LevelTable levels, int rows) {
        this.levels = levels;
        this.rows = rows;
    }

    @Override
    protected void refresh(long tick) {
        blank();
        int row = 0;
        for (String reach : levels.reaches()) {
            if (row == rows) {
                return;
            }
            double level = levels.latest(reach).orElse(0);
            String bar = "#".repeat((int) Math.max(0, Math.min(20, Math.round(level * 10))));
            write(row++, String.format("%-12s %.2f %s%s", reach, level, bar, levels.falling(reach) ? " v" : ""));
        }
    }
}
