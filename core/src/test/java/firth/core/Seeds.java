package firth.core;

import java.util.stream.LongStream;

/** How many random fleets a property is tried on: a few each time, and {@code -Dfirth.thorough=N} times as many in a longer run. */
public final class Seeds {

    private static final int THOROUGH = Integer.getInteger("firth.thorough", 1);

    private Seeds() {}

    public static LongStream upTo(int few) {
        return LongStream.range(0, (long) few * THOROUGH);
    }

    /** Some more each time, which a longer run once found to differ. */
    public static LongStream upTo(int few, long... found) {
        return LongStream.concat(upTo(few), LongStream.of(found)).distinct();
    }
}
