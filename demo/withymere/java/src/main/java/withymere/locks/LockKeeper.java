package withymere.locks;

import java.io.IOException;

import signalkit.Frame;
import signalkit.MastLink;
import withymere.records.Logbook;

public class LockKeeper {
    private final String name;
    private final int channel;
    private boolean onDuty;

    public LockKeeper(String name, int channel) {
        this.name = name;
        this.channel = channel;
    }

    public String name() {
        return name;
    }

    public void startShift() {
        onDuty = true;
        Logbook.write("keeper", name + " on duty");
    }

    public void endShift() {
        onDuty = false;
        Logbook.write("keeper", name + " off duty");
    }

    public boolean available() {
        return onDuty;
    }

    public boolean tell(MastLink link, String text) throws IOException {
        if (!onDuty) {
            return false;
        }
        link.send(new Frame(channel, "keeper").append("text", text));
        return true;
    }
}
