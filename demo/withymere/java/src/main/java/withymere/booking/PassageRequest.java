package withymere.booking;

import withymere.craft.Craft;
import withymere.locks.Direction;

public record PassageRequest(Craft craft, String flight, Direction direction, long wantedAt) {
}
