package firth.wording.explain;

import java.util.Map;

/** Reasons of a retention verdict in a person's words. */
public final class Reasons {

    private record Words(String label, String note) {}

    private static final Map<String, Words> WORDS = Map.ofEntries(
            Map.entry("reach-anchor", new Words("carries the start of reach", "the promised reach begins from it")),
            Map.entry("inside-reach", new Words("inside reach", "taken within the promised reach")),
            Map.entry("log-for-reach", new Words("log for reach", "extends what reach needs")),
            Map.entry("newest-fulls", new Words("newest fulls", "one of the newest fulls, or hangs from one")),
            Map.entry("log-for-fulls", new Words("log for the newest fulls", "extends one of the newest fulls")),
            Map.entry("rung-day", new Words("daily rung", "the first full of its day")),
            Map.entry("rung-week", new Words("weekly rung", "the first full of its week")),
            Map.entry("rung-month", new Words("monthly rung", "the first full of its month")),
            Map.entry("rung-year", new Words("yearly rung", "the first full of its year")),
            Map.entry("newest-configs", new Words("newest config backups", "one of the newest")),
            Map.entry("locked", new Words("locked", "nobody can delete it before the lock ends")),
            Map.entry("held", new Words("held", "a hold keeps it")),
            Map.entry("floor", new Words("newest way back", "part of the newest way back there is")),
            Map.entry("log-awaited", new Words("awaits its log", "the log that makes it consistent has not come yet")),
            Map.entry("waiting", new Words("waiting", "a record in its chain is not known yet")),
            Map.entry("copy-pending", new Words("copy pending", "the copies its policy asks for are not all made")),
            Map.entry("no-rule", new Words("no rule", "no rule speaks of copies in a store of this role")),
            Map.entry("chain-broken", new Words("chain broken", "a backup it hangs from is gone")),
            Map.entry("torn", new Words("torn", "logs it needs to be consistent are missing")),
            Map.entry("parent-of", new Words("parent of", "it hangs from this one")),
            Map.entry("log-for-consistency", new Words("makes consistent", "that backup needs this log")),
            Map.entry("replaced-by", new Words("replaced by", "gives what the rules need in its place")));

    private Reasons() {}

    private static Words of(String reason) {
        int colon = reason.indexOf(':');
        String name = colon < 0 ? reason : reason.substring(0, colon);
        return WORDS.getOrDefault(name, new Words(name, ""));
    }

    /** A few words for a reason; what stands after a colon is left out. */
    public static String label(String reason) {
        return of(reason).label();
    }

    /** The same with the backup a reason names after its colon. */
    public static String named(String reason) {
        int colon = reason.indexOf(':');
        return colon < 0 ? label(reason) : label(reason) + " " + reason.substring(colon + 1);
    }

    /** What the reason means. */
    public static String note(String reason) {
        return of(reason).note();
    }
}
