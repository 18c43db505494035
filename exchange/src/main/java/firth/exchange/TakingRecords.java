package firth.exchange;

import firth.core.model.Kind;
import firth.core.model.OpenHours;
import firth.core.model.RateLimit;
import firth.core.model.SourceLogs;
import firth.core.model.Taking;
import firth.core.model.Then;
import java.time.Duration;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;

/** Reads what a policy says of how backups are taken. */
final class TakingRecords {

    private static final Map<String, RateLimit.Hours> HOURS =
            Map.of("always", RateLimit.Hours.ALWAYS, "open", RateLimit.Hours.OPEN, "closed", RateLimit.Hours.CLOSED);

    private static final Map<String, SourceLogs.By> DELETED_BY =
            Map.of("engine", SourceLogs.By.ENGINE, "runner", SourceLogs.By.RUNNER);

    private TakingRecords() {}

    static Taking taking(Fields f) {
        return new Taking(
                f.objects("rateLimits", TakingRecords::limit),
                f.object("sourceLogs").map(TakingRecords::sourceLogs),
                order(f),
                f.objects("then", TakingRecords::then));
    }

    private static RateLimit limit(Fields f) {
        f.warnUnknown(Set.of("bytesPerSecond", "hours", "days", "from", "to", "store", "host"));
        double rate = f.rate("bytesPerSecond")
                .orElseThrow(() -> f.bad("bytesPerSecond", "is missing: how many bytes a second, more than 0?"));
        boolean own = f.has("days") || f.has("from") || f.has("to");
        return new RateLimit(
                rate,
                f.word("hours", HOURS).orElse(RateLimit.Hours.ALWAYS),
                own ? Optional.of(hours(f)) : Optional.empty(),
                f.id("store"),
                f.text("host"));
    }

    /** Of a day without days every day, of hours left out the first and the last. */
    private static OpenHours hours(Fields f) {
        return new OpenHours(
                PolicyRecords.days(f).orElse(PolicyRecords.EVERY_DAY),
                f.has("from") ? PolicyRecords.minute(f, "from") : 0,
                f.has("to") ? PolicyRecords.minute(f, "to") : 24 * 60);
    }

    private static SourceLogs sourceLogs(Fields f) {
        f.warnUnknown(Set.of("deletedBy", "afterCopies"));
        OptionalInt copies = f.count("afterCopies");
        if (copies.isPresent() && copies.getAsInt() == 0) {
            throw f.bad("afterCopies", "is 0: leave it out where nothing is asked");
        }
        return new SourceLogs(
                f.word("deletedBy", DELETED_BY).orElse(SourceLogs.By.ENGINE),
                copies.isPresent() ? Optional.of(copies.getAsInt()) : Optional.empty());
    }

    private static List<Kind> order(Fields f) {
        List<Kind> out = f.texts("order").stream().map(w -> kind(f, "order", w)).toList();
        if (new HashSet<>(out).size() < out.size()) {
            throw f.bad("order", "names a kind twice");
        }
        if (out.contains(Kind.LOG)) {
            throw f.bad("order", "names logs: they are taken beside everything else and wait for nothing");
        }
        return out;
    }

    private static Then then(Fields f) {
        f.warnUnknown(Set.of("after", "take", "within"));
        Set<Kind> after = EnumSet.noneOf(Kind.class);
        f.texts("after").forEach(w -> after.add(kind(f, "after", w)));
        if (after.isEmpty() || after.contains(Kind.LOG)) {
            throw f.bad("after", "names the kinds it follows: full, diff, incr or config");
        }
        Kind take = f.word("take", PolicyRecords.KINDS)
                .orElseThrow(() -> f.bad("take", "is missing: what kind is taken then?"));
        if (after.contains(take)) {
            throw f.bad("take", "is one of the kinds it follows: it would follow itself for ever");
        }
        Duration within = f.positiveDuration("within")
                .orElseThrow(() -> f.bad("within", "is missing: how soon must it have begun?"));
        return new Then(after, take, within);
    }

    private static Kind kind(Fields f, String field, String word) {
        return Optional.ofNullable(PolicyRecords.KINDS.get(word))
                .orElseThrow(() -> f.bad(field, "are written full, diff, incr, log, config"));
    }
}
