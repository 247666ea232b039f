package withymere.locks;

import java.io.IOException;

import withymere.craft.Dimensions;

public class Lock {
    private final int number;
    private final Dimensions chamber;
    private final LockFlight flight;
    private final GateMotor upper;
    private final GateMotor lower;
    private boolean full;

    public Lock(int number, Dimensions chamber, LockFlight flight) {
        this.number = number;
        this.chamber = chamber;
        this.flight = flight;
        this.upper = new GateMotor(number * 10);
        this.lower = new GateMotor(number * 10 + 1);
    }

    public int number() {
        return number;
    }

    public Dimensions chamber() {
        return chamber;
    }

    public void fill() throws IOException {
        if (lower.isOpen()) {
            lower.close();
        }
        full = true;
    }

    public void empty() throws IOException {
        if (upper.isOpen()) {
            upper.close();
        }
        full = false;
    }

    public boolean isFull() {
        return full;
    }

    public int volume() {
        return (int) Math.round(chamber.length() * chamber.beam() * chamber.draught());
    }

    /** The lock above this one, or null. */
    public Lock above() {
        return flight.lockAt(number - 1);
    }

    public void letIn(boolean fromAbove) throws IOException {
        if (fromAbove) {
            fill();
            upper.open();
        } else {
            empty();
            lower.open();
        }
    }
}
