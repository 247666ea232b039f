package withymere.notices;

public abstract class Notice {
    private final Severity severity;
    private final String reach;

    protected Notice(Severity severity, String reach) {
        this.severity = severity;
        this.reach = reach;
    }

    public Severity severity() {
        return severity;
    }

    public String reach() {
        return reach;
    }

    public abstract String headline();

    public String body() {
        return headline() + " (" + reach + ")";
    }
}
