package withymere.water;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Iterator;

/** Rain of the last days, as a forecast for the feeder streams. */
public class Rainfall {
    private final Deque<Double> days = new ArrayDeque<>();

    public void add(double millimetres) {
        if (millimetres < 0) {
            throw new IllegalArgumentException("it does not rain upward");
        }
        days.addLast(millimetres);
        if (days.size() > 14) {
            days.removeFirst();
        }
    }

    public double wetness() {
        double weight = 1;
        double sum = 0;
        for (Iterator<Double> back = days.descendingIterator(); back.hasNext();) {
            sum += back.next() * weight;
            weight *= 0.8;
        }
        return Math.round(sum * 10) / 10.0;
    }

    public boolean dry() {
        return days.stream().skip(Math.max(0, days.size() - 7)).allMatch(day -> day < 1);
    }
}
