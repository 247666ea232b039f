package withymere.notices;

import java.io.IOException;

import signalkit.Frame;
import signalkit.MastLink;
import withymere.records.Logbook;

public class RadioSender {
    private final MastLink link;
    private final int channel;

    public RadioSender(String host, int port, int channel) {
        this.link = new MastLink(host, port);
        this.channel = channel;
    }

    public void broadcast(Notice notice) throws IOException {
        Frame frame = new Frame(channel, "notice")
            .append("severity", notice.severity())
            .append("text", notice.headline());
        link.send(frame);
        Logbook.write("radio", "sent " + notice.headline());
    }
}
