package firth.agent;

import java.util.concurrent.TimeUnit;

/** Keeps something to so much a second: whoever is too fast waits. */
final class Rate {

    private final double perSecond;
    private long free = System.nanoTime();

    /** @param perSecond 0 or less: as fast as it goes */
    Rate(double perSecond) {
        this.perSecond = perSecond;
    }

    /** Waits until so much more may be done. */
    void spend(long amount) throws InterruptedException {
        if (perSecond > 0) {
            long now = System.nanoTime();
            if (free - now > 0) {
                TimeUnit.NANOSECONDS.sleep(free - now);
            } else {
                free = now;
            }
            free += (long) (amount / perSecond * 1e9);
        }
    }
}
