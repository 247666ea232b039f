package sluicedisplay;

import java.util.ArrayList;
import java.util.List;

/** Base class of everything that is shown on a lock-side display. The display calls `refresh` once a second. */
public abstract class DisplayView {
    private final List<String> lines = new ArrayList<>();
    private boolean attached;

    protected abstract void refresh(long tick);

    protected void write(int row, String text) {
        if (!attached) {
            throw new IllegalStateException("the view is not on a display");
        }
        while (lines.size() <= row) {
            lines.add("");
        }
        lines.set(row, text.length() > 40 ? text.substring(0, 40) : text);
    }

    protected void blank() {
        lines.clear();
    }

    /** Called by the display driver only. */
    public void attach(DisplayDriver driver) {
        attached = true;
        driver.onTick(this::refresh);
    }

    public List<String> shown() {
        return List.copyOf(lines);
    }
}
