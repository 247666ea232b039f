package withymere.panel;

import sluicedisplay.DisplayView;
import withymere.booking.PassageDesk;
import withymere.notices.NoticeBoard;

public class DeskPanel extends DisplayView {
    private final PassageDesk desk;
    private final NoticeBoard board;
    private int page;

    public DeskPanel(PassageDesk desk, NoticeBoard board) {
        this.desk = desk;
        this.board = board;
    }

    @Override
    protected void refresh(long tick) {
        if (tick % 5 == 0) {
            page++;
        }
        String[] lines = board.page().split("\n");
        write(0, desk.pending() + " waiting");
        write(1, lines[page % lines.length]);
    }
}
