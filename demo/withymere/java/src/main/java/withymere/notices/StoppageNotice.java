package withymere.notices;

public class StoppageNotice extends Notice {
    private final String from;
    private final String until;

    public StoppageNotice(String reach, String from, String until) {
        super(Severity.WATCH, reach);
        this.from = from;
        this.until = until;
    }

    @Override
    public String headline() {
        return "Closed from " + from + " until " + until;
    }
}
