package withymere.notices;

import java.util.List;

/** Prints the board for the glass cases along the towpath. */
public class TowpathPress {
    private final NoticeBoard board = new NoticeBoard();

    public void take(List<? extends Notice> notices) {
        for (Notice notice : notices) {
            board.pin(notice);
        }
    }

    public String sheet(int width) {
        String rule = "-".repeat(width);
        String mark = board.loudest() == Severity.DANGER ? "!! " : "";
        StringBuilder sheet = new StringBuilder(rule).append('\n');
        for (String line : board.page().split("\n")) {
            sheet.append(mark).append(line, 0, Math.min(line.length(), width - mark.length())).append('\n');
        }
        return sheet.append(rule).toString();
    }
}
