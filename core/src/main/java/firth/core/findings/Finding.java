package firth.core.findings;

import firth.core.model.Worded;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * Something wrong (docs/semantics.md, "Findings").
 *
 * @param code what kind of thing, the same for every database it befalls
 * @param about what it is about, within its code: a database and something of it, or a cause that several share
 * @param databases the ids of those it befalls; none where it is about Firth itself
 * @param befallsToo the names of others it befalls for the same reason, beyond the one the detail is of
 * @param since when it began; empty where that is not known
 * @param detail what is wrong, why and at what cost
 * @param waysOut everything that was tried, the best first
 * @param facts the ids of the records it rests on
 * @param breaks when a promise breaks if nothing happens; empty where none will, or one is broken already
 */
public record Finding(
        String code,
        Severity severity,
        String about,
        List<String> databases,
        List<String> befallsToo,
        Optional<Instant> since,
        Detail detail,
        List<WayOut> waysOut,
        List<String> facts,
        Optional<Instant> breaks) {

    public Finding {
        databases = List.copyOf(databases);
        befallsToo = List.copyOf(befallsToo);
        waysOut = List.copyOf(waysOut);
        facts = List.copyOf(facts);
    }

    /** One that breaks no promise by itself. */
    public Finding(
            String code,
            Severity severity,
            String about,
            List<String> databases,
            Optional<Instant> since,
            Detail detail,
            List<WayOut> waysOut,
            List<String> facts) {
        this(code, severity, about, databases, List.of(), since, detail, waysOut, facts, Optional.empty());
    }

    /** The same where it breaks a promise at a moment if nothing happens. */
    public Finding breaking(Instant at) {
        return new Finding(
                code,
                Severity.WILL_BREAK,
                about,
                databases,
                befallsToo,
                since,
                detail,
                waysOut,
                facts,
                Optional.of(at));
    }

    /** The same of several databases. */
    Finding shared(List<String> all, List<String> othersByName, List<String> allFacts) {
        return new Finding(code, severity, about, all, othersByName, since, detail, waysOut, allFacts, breaks);
    }

    /** One that befalls a single database, against which nothing was tried. */
    public static Finding of(
            String code,
            Severity severity,
            String database,
            String about,
            Optional<Instant> since,
            Detail detail,
            List<String> facts) {
        return new Finding(code, severity, about, List.of(database), since, detail, List.of(), facts);
    }

    /** What tells it from every other, the same for as long as it lasts. */
    public String key() {
        return code + "|" + about;
    }

    /** How it ranks among others, the worst first. */
    public enum Severity implements Worded {
        STRANDED,
        BEHIND,
        /** Behind after the loss of the site or sabotage, not after a mishap. */
        HAZARD_MISSED,
        UNBRIDGED_GAP,
        /** A promise breaks if nothing happens, and it is known when. */
        WILL_BREAK,
        /** It can only be waited out. */
        BRIDGED_GAP,
        /** Rules or records contradict one another. */
        CONTRADICTION,
        SLOT_NOT_KEPT,
        RULE_BROKEN,
        SPILL,
        UNPROVEN,
        NO_RULE,
        UNUSUAL;

        /** How soon it needs somebody. */
        public Urgency urgency() {
            if (this == WILL_BREAK) {
                return Urgency.WILL_BREAK;
            }
            if (compareTo(WILL_BREAK) < 0) {
                return Urgency.BROKEN;
            }
            return compareTo(UNPROVEN) < 0 ? Urgency.BESIDES : Urgency.HOUSEKEEPING;
        }
    }

    /** How soon something needs somebody, the soonest first. */
    public enum Urgency implements Worded {
        /** A promise is broken now. */
        BROKEN,
        /** One will be if nothing happens. */
        WILL_BREAK,
        BESIDES,
        HOUSEKEEPING;
    }
}
