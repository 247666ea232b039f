package withymere.notices;

public class LowWaterNotice extends Notice {
    private final double level;
    private final double floor;

    public LowWaterNotice(String reach, double level, double floor) {
        super(level < floor / 2 ? Severity.DANGER : Severity.WATCH, reach);
        this.level = level;
        this.floor = floor;
    }

    @Override
    public String headline() {
        return String.format("Low water: %.2f m of %.2f m", level, floor);
    }

    int replaceOlder(NoticeBoard board) {
        return board.removeWhere(notice -> notice instanceof LowWaterNotice && notice.reach().equals(reach()));
    }
}
