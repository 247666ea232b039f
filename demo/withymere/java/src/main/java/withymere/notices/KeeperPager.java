package withymere.notices;

import java.io.IOException;

import signalkit.Frame;
import signalkit.MastLink;
import withymere.records.Logbook;

public class KeeperPager {
    private final MastLink link;

    public KeeperPager(MastLink link) {
        this.link = link;
    }

    public void page(String keeper, String text) throws IOException {
        if (text.length() > 80) {
            throw new IllegalArgumentException("a page is at most 80 characters");
        }
        link.send(new Frame(7, "page").append("to", keeper).append("text", text));
        Logbook.write("pager", keeper + ": " + text);
    }
}
