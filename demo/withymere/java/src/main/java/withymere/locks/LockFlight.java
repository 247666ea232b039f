package withymere.locks;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.OptionalDouble;

import withymere.craft.Dimensions;
import withymere.records.Logbook;
import withymere.water.LevelTable;
import withymere.water.WaterBudget;

/** A staircase of locks that is worked as one. */
public class LockFlight {
    private final List<Lock> locks = new ArrayList<>();
    private final String name;
    private final String reach;
    private final WaterBudget budget;
    private final LevelTable levels;
    private LockKeeper keeper;
    private Direction direction = Direction.UP;
    private long closedUntil;
    private int passages;

    public LockFlight(String name, String reach, WaterBudget budget, LevelTable levels) {
        this.name = name;
        this.reach = reach;
        this.budget = budget;
        this.levels = levels;
    }

    public String name() {
        return name;
    }

    public String reach() {
        return reach;
    }

    public void build(int count, Dimensions chamber) {
        for (int number = 1; number <= count; number++) {
            locks.add(new Lock(number, chamber, this));
        }
    }

    public Lock lockAt(int number) {
        return locks.stream().filter(lock -> lock.number() == number).findFirst().orElse(null);
    }

    public int count() {
        return locks.size();
    }

    public Dimensions smallest() {
        if (locks.isEmpty()) {
            throw new IllegalStateException(name + " has no locks");
        }
        Dimensions least = locks.get(0).chamber();
        for (Lock lock : locks) {
            if (lock.chamber().length() < least.length()) {
                least = lock.chamber();
            }
        }
        return least;
    }

    public boolean takes(Dimensions size) {
        return size.fits(smallest());
    }

    public int waterFor(int count) {
        return locks.stream().limit(count).mapToInt(Lock::volume).sum();
    }

    public boolean canWork() {
        return isOpen() && keeper != null && budget.allows(reach, waterFor(1));
    }

    public boolean isOpen() {
        return System.currentTimeMillis() >= closedUntil;
    }

    public void closeFor(int hours) {
        closedUntil = System.currentTimeMillis() + hours * 3_600_000L;
        Logbook.warn("flight", name + " closed for " + hours + " h");
    }

    public void reopen() {
        closedUntil = 0;
        Logbook.write("flight", name + " open again");
    }

    public void assign(LockKeeper newKeeper) {
        keeper = newKeeper;
        Logbook.write("flight", keeper.name() + " keeps " + name);
    }

    public LockKeeper relieve() {
        LockKeeper relieved = keeper;
        keeper = null;
        return relieved;
    }

    public String keeperName() {
        return keeper == null ? "nobody" : keeper.name();
    }

    public boolean turn(Direction to) {
        if (direction == to) {
            return false;
        }
        direction = to;
        return true;
    }

    public Direction heading() {
        return direction;
    }

    public OptionalDouble levelAbove() {
        return levels.latest(reach);
    }

    public int waitingTime(int queue) {
        int each = locks.size() * 12;
        return queue * each + (levels.falling(reach) ? each : 0);
    }

    public void pass(Dimensions size, Direction wanted) throws IOException {
        if (!takes(size)) {
            throw new IllegalArgumentException("too large for " + name);
        }
        if (!canWork()) {
            throw new IllegalStateException(name + " cannot be worked now");
        }
        budget.spend(reach, waterFor(locks.size()));
        turn(wanted);
        List<Lock> order = new ArrayList<>(locks);
        if (wanted == Direction.UP) {
            Collections.reverse(order);
        }
        for (Lock lock : order) {
            lock.letIn(wanted == Direction.DOWN);
        }
        passages++;
        Logbook.write("flight", name + ": passage " + passages);
    }

    public int passed() {
        return passages;
    }

    public String summary() {
        return name + ": " + count() + " locks, " + keeperName() + ", " + (isOpen() ? "open" : "closed") + ", " + passages + " passages";
    }
}
