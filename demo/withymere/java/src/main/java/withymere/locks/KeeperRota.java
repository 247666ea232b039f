package withymere.locks;

import java.util.ArrayList;
import java.util.List;

import withymere.records.Logbook;

public class KeeperRota {
    private final List<LockKeeper> keepers = new ArrayList<>();
    private int next;

    public void hire(LockKeeper keeper) {
        keepers.add(keeper);
    }

    public int fill(List<LockFlight> flights) {
        int filled = 0;
        for (LockFlight flight : flights) {
            LockKeeper keeper = take();
            if (keeper == null) {
                Logbook.alarm("rota", "nobody for " + flight.name());
                break;
            }
            flight.assign(keeper);
            filled++;
        }
        return filled;
    }

    public int size() {
        return keepers.size();
    }

    private LockKeeper take() {
        for (int tried = 0; tried < keepers.size(); tried++) {
            LockKeeper keeper = keepers.get((next + tried) % keepers.size());
            if (keeper.available()) {
                next = (next + tried + 1) % keepers.size();
                return keeper;
            }
        }
        return null;
    }
}
