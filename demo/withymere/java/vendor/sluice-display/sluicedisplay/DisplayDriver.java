package sluicedisplay;

import java.util.function.LongConsumer;

/** What drives a display: it ticks once a second. */
public interface DisplayDriver {
    void onTick(LongConsumer listener);
}
