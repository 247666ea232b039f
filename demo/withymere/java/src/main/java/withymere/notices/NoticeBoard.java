package withymere.notices;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;

import withymere.records.Logbook;

public class NoticeBoard {
    private final List<Notice> notices = new ArrayList<>();

    public void pin(Notice notice) {
        if (notice instanceof LowWaterNotice low) {
            low.replaceOlder(this);
        }
        notices.add(notice);
        Logbook.write("notices", notice.body(), notice.severity());
    }

    public int removeWhere(Predicate<Notice> test) {
        int before = notices.size();
        notices.removeIf(test);
        return before - notices.size();
    }

    public List<Notice> forReach(String reach) {
        return notices.stream().filter(notice -> notice.reach().equals(reach)).toList();
    }

    public Severity loudest() {
        Severity worst = Severity.CALM;
        for (Notice notice : notices) {
            worst = Severity.louder(worst, notice.severity());
        }
        return worst;
    }

    public int count() {
        return notices.size();
    }

    public String page() {
        if (notices.isEmpty()) {
            return "No notices.";
        }
        StringBuilder page = new StringBuilder();
        int number = 1;
        for (Notice notice : notices) {
            page.append(number++).append(". ").append(notice.body()).append('\n');
        }
        return page.toString().stripTrailing();
    }
}
