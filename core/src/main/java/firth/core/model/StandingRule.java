package firth.core.model;

import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * A rule that gives new databases a policy and a route by themselves. A database falls under it when everything stated
 * holds; of several rules the one of the least {@code order} counts.
 *
 * @param labels labels it must have, each with that text
 * @param name a pattern its name must match whole: {@code *} stands for anything, {@code ?} for one character
 */
public record StandingRule(
        String id,
        int order,
        Map<String, String> labels,
        Optional<String> engine,
        Optional<String> site,
        Optional<String> system,
        Optional<String> name,
        Optional<String> policy,
        Optional<String> route,
        boolean enabled)
        implements FleetRecord {

    public StandingRule {
        labels = Map.copyOf(labels);
    }

    @Override
    public String type() {
        return "standing";
    }

    /** Whether a database falls under it. A rule that states nothing holds for none. */
    public boolean holdsFor(Database database) {
        Particulars known = database.particulars();
        boolean states =
                !labels.isEmpty() || engine.isPresent() || site.isPresent() || system.isPresent() || name.isPresent();
        return enabled
                && states
                && known.labels().entrySet().containsAll(labels.entrySet())
                && engine.map(e -> database.engine()
                                .filter(own -> own.equals(e) || own.startsWith(e + " "))
                                .isPresent())
                        .orElse(true)
                && site.map(s -> database.site().filter(s::equals).isPresent()).orElse(true)
                && system.map(s -> known.system().filter(s::equals).isPresent()).orElse(true)
                && name.map(pattern -> matches(pattern, database.name())).orElse(true);
    }

    private static boolean matches(String pattern, String name) {
        StringBuilder regex = new StringBuilder();
        for (int i = 0; i < pattern.length(); i++) {
            char c = pattern.charAt(i);
            regex.append(c == '*' ? ".*" : c == '?' ? "." : Pattern.quote(String.valueOf(c)));
        }
        return Pattern.matches(regex.toString(), name);
    }

    /** The rules a database falls under, the one that counts first. */
    public static List<StandingRule> of(Database database, List<StandingRule> rules) {
        return rules.stream()
                .filter(r -> r.holdsFor(database))
                .sorted(Comparator.comparingInt(StandingRule::order).thenComparing(StandingRule::id))
                .toList();
    }
}
