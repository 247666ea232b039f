package withymere.locks;

import java.io.IOException;

import signalkit.Frame;
import signalkit.MastLink;
import withymere.records.Logbook;

/** Drives one pair of gates through the radio. */
public class GateMotor {
    private final MastLink link = new MastLink(System.getProperty("withymere.mast", "127.0.0.1"), Integer.getInteger("withymere.mast.port", 4410));
    private final int lock;
    private int position;

    public GateMotor(int lock) {
        this.lock = lock;
    }

    public void open() throws IOException {
        move(100);
    }

    public void close() throws IOException {
        move(0);
    }

    public boolean isOpen() {
        return position == 100;
    }

    private void move(int to) throws IOException {
        if (position == to) {
            return;
        }
        link.send(new Frame(3, "gate").append("lock", lock).append("to", to));
        position = to;
        Logbook.write("gate", "lock " + lock + " at " + to);
    }
}
