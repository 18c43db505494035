package firth.server.week;

import jakarta.ws.rs.QueryParam;
import java.time.Instant;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Whose slots a calendar is to have: those that fit all that is said. */
public final class CalendarAsked {

    /** The id of the policy they follow now. */
    @QueryParam("policy")
    @Nullable
    String policy;

    @QueryParam("host")
    @Nullable
    String host;

    /** The id of a store their backups first come to lie in. */
    @QueryParam("store")
    @Nullable
    String store;

    @QueryParam("owner")
    @Nullable
    String owner;

    boolean fits(WeekPart.WeekAhead own, Instant now) {
        return fits(policy, own.database().policyAt(now))
                && fits(host, own.database().particulars().host())
                && fits(owner, own.database().particulars().owner())
                && (isAbsent(store) || own.expected().stream().anyMatch(e -> fits(store, e.store())));
    }

    private static boolean fits(@Nullable String wanted, Optional<String> has) {
        return isAbsent(wanted) || has.filter(h -> h.equals(wanted)).isPresent();
    }

    private static boolean isAbsent(@Nullable String text) {
        return text == null || text.isBlank();
    }
}
