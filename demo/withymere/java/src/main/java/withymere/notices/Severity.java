package withymere.notices;

public enum Severity {
    CALM, WATCH, DANGER;

    public static Severity louder(Severity a, Severity b) {
        return a.compareTo(b) >= 0 ? a : b;
    }
}
