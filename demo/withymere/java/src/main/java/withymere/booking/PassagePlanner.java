package withymere.booking;

import java.util.ArrayList;
import java.util.List;

import withymere.locks.Direction;
import withymere.locks.LockFlight;
import withymere.records.Logbook;

/** Puts requests into the day so that the flight turns as seldom as it can. */
public class PassagePlanner {
    public record Slot(long start, int minutes, String craft) {
    }

    private final List<Slot> slots = new ArrayList<>();
    private final PassageDesk desk;

    public PassagePlanner(PassageDesk desk) {
        this.desk = desk;
    }

    public List<Slot> plan(List<PassageRequest> requests, LockFlight flight) {
        if (!flight.isOpen()) {
            return List.of();
        }
        List<PassageRequest> order = new ArrayList<>();
        Direction first = flight.heading();
        requests.stream().filter(request -> request.direction() == first).forEach(order::add);
        requests.stream().filter(request -> request.direction() != first).forEach(order::add);
        long at = System.currentTimeMillis();
        for (PassageRequest request : order) {
            if (!flight.takes(request.craft().size())) {
                continue;
            }
            int minutes = minutesFor(flight, request);
            slots.add(new Slot(at, minutes, request.craft().name()));
            at += minutes * 60_000L;
        }
        Logbook.write("planner", slots.size() + " slots for " + flight.name());
        return slots;
    }

    private int minutesFor(LockFlight flight, PassageRequest request) {
        double slow = request.craft().speed() < 3 ? 1.5 : 1;
        return (int) Math.ceil(flight.count() * 12 * slow + desk.delay(flight.name()));
    }
}
