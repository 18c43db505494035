package firth.core.model;

import java.util.Optional;

/**
 * How fast a run may go (docs/semantics.md, "How backups are taken"). Where several hold at once the least counts.
 *
 * @param bytesPerSecond above 0
 * @param hours in which of the policy's hours it holds
 * @param at in which hours of its own it holds besides; empty: in all
 * @param store into which store; empty: into all
 * @param host from which host; empty: from all
 */
public record RateLimit(
        double bytesPerSecond, Hours hours, Optional<OpenHours> at, Optional<String> store, Optional<String> host) {

    /** Of the hours in which data backups are welcome. */
    public enum Hours implements Worded {
        ALWAYS,
        OPEN,
        CLOSED
    }

    /**
     * Whether it is for such a run at all, at whatever hour.
     *
     * @param into the store it writes to, where that is known
     * @param from the host it runs on, where that is known
     */
    public boolean isFor(Optional<String> into, Optional<String> from) {
        return (store.isEmpty() || store.equals(into)) && (host.isEmpty() || host.equals(from));
    }
}
