package firth.server.policies;

import com.fasterxml.jackson.databind.JsonNode;
import firth.exchange.PolicyDocument;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.PolicyFollowers;
import firth.server.platform.BadRequest;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.OptionalInt;
import org.jspecify.annotations.Nullable;

/** Rules as they are written, tried on what was and on what will be. */
@ApplicationScoped
class TriedRules {
    /** Since when a policy nobody ever put in force is taken to have been one, when it is tried on a history. */
    private static final Duration TRIED = Duration.ofDays(400);

    private final Lookout lookout;
    private final Consequences consequences;
    private final LookAhead lookAhead;
    private final PolicyFollowers following;
    private final PolicyViews policyViews;

    TriedRules(
            Lookout lookout,
            Consequences consequences,
            LookAhead lookAhead,
            PolicyFollowers following,
            PolicyViews policyViews) {
        this.following = following;
        this.lookout = lookout;
        this.consequences = consequences;
        this.lookAhead = lookAhead;
        this.policyViews = policyViews;
    }

    /**
     * What rules would have done, replayed over the last 30 days.
     *
     * @param followers of which policy the databases are taken; absent: of this one
     * @param enough how many of them are enough; absent: all
     */
    Policies.Replay replay(String id, @Nullable String followers, @Nullable Integer enough, JsonNode document) {
        PolicyDocument.Reading reading = tried(id, document).read();
        Instant now = lookout.now();
        return reading.version()
                .map(v -> consequences.replay(v, followers == null ? id : followers, many(enough)))
                .orElseGet(() -> new Policies.Replay(
                        bad(reading), 0, 0, now, now, null, null, null, List.of(), List.of(), null));
    }

    /**
     * What rules will do over the next 60 days.
     *
     * @param followers of which policy the databases are taken; absent: of this one
     * @param enough how many of them are enough; absent: all
     */
    Policies.Ahead ahead(String id, @Nullable String followers, @Nullable Integer enough, JsonNode document) {
        PolicyDocument.Reading reading = tried(id, document).read();
        return reading.version()
                .map(v -> lookAhead.ahead(v, followers == null ? id : followers, many(enough)))
                .orElseGet(() -> new Policies.Ahead(
                        bad(reading), lookout.now(), LookAhead.DAYS, 0, List.of(), null, null, List.of(), null));
    }

    private static OptionalInt many(@Nullable Integer enough) {
        if (enough == null) {
            return OptionalInt.empty();
        }
        if (enough < 1) {
            throw new BadRequest("enough", "is to be 1 or more");
        }
        return OptionalInt.of(enough);
    }

    private static Policies.@Nullable BadValue bad(PolicyDocument.Reading reading) {
        return reading.flaw()
                .map(f -> new Policies.BadValue(f.path(), f.reason()))
                .orElse(null);
    }

    private PolicyDocument tried(String id, JsonNode document) {
        ZoneId zone = following.zone(id);
        Instant now = lookout.standsAt();
        return PolicyDocument.of(document)
                .as(id, policyViews.next(id), now.minus(TRIED))
                .anchored(policyViews.inForce(id), zone, now.atZone(zone).toLocalDate());
    }
}
