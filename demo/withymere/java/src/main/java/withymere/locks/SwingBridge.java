package withymere.locks;

import java.io.IOException;

/** A road bridge over the cut below a flight, worked by hand. */
public class SwingBridge {
    private final String name;
    private final int load;
    private int angle;
    private int swings;

    public SwingBridge(String name, int load) {
        this.name = name;
        this.load = load;
    }

    public void open() throws IOException {
        if (load > 0) {
            throw new IOException(load + " t stand on " + name);
        }
        swing(90);
    }

    public void close() throws IOException {
        swing(0);
    }

    public boolean isOpen() {
        return angle == 90;
    }

    public int wear() {
        return swings / 50;
    }

    private void swing(int to) {
        if (angle == to) {
            return;
        }
        angle = to;
        swings++;
    }
}
