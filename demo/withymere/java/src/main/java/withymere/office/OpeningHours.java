package withymere.office;

import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.HashMap;
import java.util.Map;

import withymere.records.Logbook;

public class OpeningHours {
    public record Span(int from, int to) {
    }

    private final Map<LocalDate, Span> exceptions = new HashMap<>();
    private final Span summer;
    private final Span winter;

    public OpeningHours(Span summer, Span winter) {
        this.summer = summer;
        this.winter = winter;
    }

    /** Other hours on one day; null for a day on which it stays closed. */
    public void except(LocalDate day, Span hours) {
        exceptions.put(day, hours);
        Logbook.write("hours", day + ": " + (hours == null ? "closed" : hours.from() + " to " + hours.to()));
    }

    public boolean openNow() {
        return openAt(LocalDateTime.now());
    }

    public boolean openAt(LocalDateTime time) {
        LocalDate day = time.toLocalDate();
        Span hours = exceptions.containsKey(day) ? exceptions.get(day) : usual(day.getMonthValue());
        return hours != null && time.getHour() >= hours.from() && time.getHour() < hours.to();
    }

    private Span usual(int month) {
        return month >= 4 && month <= 10 ? summer : winter;
    }
}
