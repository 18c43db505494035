package firth.server.history;

import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.AskedWord;
import firth.server.platform.SearchWords;
import firth.store.EntryFilter;
import jakarta.ws.rs.QueryParam;
import java.time.Instant;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Which part of history a request is about: a moment, a period and what was chosen, each a list separated by commas. */
public final class HistoryAsked {

    /** Kinds of line that are no backups. */
    static final Set<String> BESIDE = Set.of("drill", "restore");

    /** What one may choose databases by. */
    static final List<String> BY_DATABASE = List.of("policy", "site", "engine", "database");

    @QueryParam("asOf")
    @Nullable
    String asOf;

    @QueryParam("period")
    @Nullable
    String period;

    /** Kinds of backup, {@code drill}, {@code restore}; none: all, logs that went well left out unless asked for. */
    @QueryParam("kind")
    @Nullable
    String kind;

    @QueryParam("outcome")
    @Nullable
    String outcome;

    @QueryParam("policy")
    @Nullable
    String policy;

    @QueryParam("site")
    @Nullable
    String site;

    @QueryParam("engine")
    @Nullable
    String engine;

    @QueryParam("database")
    @Nullable
    String database;

    /** A store the backup came to lie in. */
    @QueryParam("store")
    @Nullable
    String store;

    @QueryParam("words")
    @Nullable
    String words;

    /** Whether logs that went well are among them where no kind is chosen. */
    @QueryParam("logs")
    boolean logs;

    /** Whether runs that failed of one cause are one line. */
    @QueryParam("fold")
    boolean fold;

    static Set<String> listed(@Nullable String value) {
        return value == null || value.isBlank()
                ? Set.of()
                : Arrays.stream(value.split(","))
                        .filter(v -> !v.isBlank())
                        .collect(Collectors.toCollection(TreeSet::new));
    }

    Set<String> beside() {
        Set<String> out = new TreeSet<>(listed(kind));
        out.retainAll(BESIDE);
        return out;
    }

    private Set<Kind> kinds() {
        Set<Kind> out = EnumSet.noneOf(Kind.class);
        for (String word : listed(kind)) {
            if (!BESIDE.contains(word)) {
                out.add(AskedWord.of(Kind.class, "kind", word));
            }
        }
        return out;
    }

    Set<Outcome> outcomes() {
        Set<Outcome> out = EnumSet.noneOf(Outcome.class);
        listed(outcome).forEach(w -> out.add(AskedWord.of(Outcome.class, "outcome", w)));
        return out;
    }

    /** Whether runs and backups are asked for at all, and not drills or restores alone. */
    boolean asksForRuns() {
        return beside().isEmpty() || !kinds().isEmpty();
    }

    /** Whether drills or restores are asked for. */
    boolean asksFor(String beside) {
        return (listed(kind).isEmpty() || beside().contains(beside))
                && listed(store).isEmpty();
    }

    /** What is chosen by something a database is, from name to values. */
    Map<String, Set<String>> chosen() {
        Map<String, Set<String>> out = new LinkedHashMap<>();
        out.put("policy", listed(policy));
        out.put("site", listed(site));
        out.put("engine", listed(engine));
        out.put("database", listed(database));
        out.values().removeIf(Set::isEmpty);
        return out;
    }

    /** Stands for nothing said, such as no policy. */
    static final String NONE = "-";

    /** What a database is, in the matter one may choose by. */
    static String trait(String name, Database d, Instant asOf) {
        return switch (name) {
            case "policy" -> d.policyAt(asOf).orElse(NONE);
            case "site" -> d.site().orElse(NONE);
            case "engine" -> d.engine().orElse(NONE);
            default -> d.id();
        };
    }

    /** Whether a database fits everything chosen, but for one matter. */
    boolean fits(Database d, Instant moment, String but) {
        return chosen().entrySet().stream()
                .allMatch(c -> c.getKey().equals(but) || c.getValue().contains(trait(c.getKey(), d, moment)));
    }

    EntryFilter filter(FleetNow fleet, Lookout.View view) {
        Optional<Set<String>> databases = chosen().isEmpty()
                ? Optional.empty()
                : Optional.of(fleet.databases().values().stream()
                        .filter(d -> fits(d, view.asOf(), ""))
                        .map(Database::id)
                        .collect(Collectors.toSet()));
        Set<String> stores = listed(store);
        return new EntryFilter(
                view.period().from(),
                view.asOf().isBefore(view.period().to())
                        ? view.asOf()
                        : view.period().to(),
                kinds(),
                outcomes(),
                logs,
                databases,
                stores.stream().findFirst(),
                words().stream()
                        .map(w -> new EntryFilter.Word(w, named(fleet, w)))
                        .toList());
    }

    List<String> words() {
        return SearchWords.split(words);
    }

    private static Set<String> named(FleetNow fleet, String word) {
        String wanted = word.toLowerCase(Locale.ROOT);
        return fleet.databases().values().stream()
                .filter(d -> d.name().toLowerCase(Locale.ROOT).contains(wanted)
                        || d.id().toLowerCase(Locale.ROOT).contains(wanted))
                .map(Database::id)
                .collect(Collectors.toSet());
    }
}
