package withymere.booking;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

public class PassageQueue {
    private final List<PassageRequest> waiting = new ArrayList<>();

    public int join(PassageRequest request) {
        waiting.add(request);
        waiting.sort(Comparator.comparingLong(PassageRequest::wantedAt));
        return waiting.indexOf(request) + 1;
    }

    /** The next request, or null. */
    public PassageRequest next() {
        return waiting.isEmpty() ? null : waiting.remove(0);
    }

    public boolean leave(String craft) {
        return waiting.removeIf(request -> request.craft().name().equals(craft));
    }

    public int length() {
        return waiting.size();
    }

    public List<PassageRequest> forFlight(String flight) {
        return waiting.stream().filter(request -> request.flight().equals(flight)).toList();
    }
}
