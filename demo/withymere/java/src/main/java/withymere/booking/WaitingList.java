package withymere.booking;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;

import withymere.records.Logbook;
import withymere.water.LevelTable;

/** Holds requests back while a reach is low, and lets them into the queue again. */
public class WaitingList {
    private final List<PassageRequest> held = new ArrayList<>();
    private final PassageQueue queue;
    private final UnaryOperator<String> reachOf;

    public WaitingList(PassageQueue queue, UnaryOperator<String> reachOf) {
        this.queue = queue;
        this.reachOf = reachOf;
    }

    public boolean offer(PassageRequest request) {
        if (LevelTable.SHARED.latest(reachOf.apply(request.flight())).orElse(2) < 0.8) {
            held.add(request);
            Logbook.write("waiting", request.craft().name() + " held back");
            return false;
        }
        queue.join(request);
        return true;
    }

    public int release() {
        List<PassageRequest> ready = held.stream()
            .filter(request -> LevelTable.SHARED.latest(reachOf.apply(request.flight())).orElse(2) >= 0.8).toList();
        held.removeAll(ready);
        ready.forEach(queue::join);
        return ready.size();
    }

    public int size() {
        return held.size();
    }
}
