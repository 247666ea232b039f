package withymere.panel;

import java.util.OptionalDouble;

import sluicedisplay.DisplayView;
import withymere.locks.LockFlight;
import withymere.records.Logbook;
import withymere.water.LevelTable;

/** The panel beside a flight: says whether its gate may open. */
public class LockPanel extends DisplayView {
    private final LockFlight flight;
    private final LevelTable levels;
    private boolean mayOpen;
    private long since;

    public LockPanel(LockFlight flight, LevelTable levels) {
        this.flight = flight;
        this.levels = levels;
    }

    @Override
    protected void refresh(long tick) {
        OptionalDouble level = levels.latest(flight.reach());
        String reason = "";
        boolean allowed = true;
        if (!flight.isOpen()) {
            allowed = false;
            reason = "closed";
        } else if (!flight.canWork()) {
            allowed = false;
            reason = "no keeper or no water";
        } else if (level.isEmpty()) {
            allowed = false;
            reason = "no gauge";
        } else if (level.getAsDouble() < 0.6 || level.getAsDouble() > 2.4) {
            allowed = false;
            reason = String.format("level %.2f", level.getAsDouble());
        } else if (levels.falling(flight.reach()) && level.getAsDouble() < 1) {
            allowed = false;
            reason = "falling";
        }
        if (allowed != mayOpen) {
            since = tick;
            Logbook.write("panel", flight.name() + ": " + (allowed ? "gate may open" : reason));
        }
        mayOpen = allowed;
        write(0, flight.name());
        write(1, allowed ? "GATE MAY OPEN" : "WAIT: " + reason);
        write(2, "for " + (tick - since) + " s, " + flight.keeperName());
    }

    public boolean gateMayOpen() {
        return mayOpen;
    }
}
