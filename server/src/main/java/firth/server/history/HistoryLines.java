package firth.server.history;

import firth.core.adherence.Slot;
import firth.core.evaluation.Evaluation;
import firth.core.forecast.Comparison;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Database;
import firth.core.model.Demands;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.PolicyVersion;
import firth.core.model.Run;
import firth.core.model.Traits;
import firth.exchange.Told;
import firth.server.cover.CoverRows;
import firth.server.evaluation.FleetNow;
import firth.store.Entries;
import firth.store.Entry;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.TextStyle;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Turns runs and backups into lines of history as they were known at a moment, each beside what is usual. */
final class HistoryLines {

    private final FleetNow fleet;
    private final Instant asOf;
    private final Entries entries;
    private final Map<String, Slot> slots = new HashMap<>();
    private HistoryFolds folds = HistoryFolds.none();

    HistoryLines(FleetNow fleet, Instant asOf, Entries entries) {
        this.fleet = fleet;
        this.asOf = asOf;
        this.entries = entries;
    }

    /** Lets lines say which slot they belong to. */
    HistoryLines with(List<Evaluation> answers) {
        answers.forEach(e -> e.slots().forEach(s -> s.runs().forEach(r -> slots.put(r.id(), s))));
        return this;
    }

    /** Lets lines say what they stand for. */
    HistoryLines with(HistoryFolds known) {
        folds = known;
        return this;
    }

    Optional<Slot> slot(Entry entry) {
        return Optional.ofNullable(slots.get(entry.id()))
                .or(() -> entry.backup().map(Backup::id).map(slots::get));
    }

    HistoryView.Line line(Entry entry) {
        Optional<Database> database = fleet.database(entry.database());
        Optional<Instant> ended = entry.ended().filter(e -> !e.isAfter(asOf));
        boolean running = ended.isEmpty() && entry.ended().isPresent()
                || entry.run().filter(r -> r.outcome() == Outcome.RUNNING).isPresent()
                        && entry.backup().isEmpty();
        Optional<Backup> backup = entry.backup().filter(b -> !running);
        Traits traits = backup.map(Told::of).orElse(Traits.NONE);
        Demands demands = demands(database, entry.started());
        Optional<Slot> slot = slot(entry);
        Like like = new Like(entry, database.map(Database::zone).orElse(ZoneOffset.UTC));
        double took = ended.map(e -> Duration.between(entry.started(), e).toMillis() / 1000.0)
                .orElse(0.0);
        double bytes = backup.map(HistoryLines::bytes).orElse(0.0);
        boolean ok = backup.isPresent();
        return new HistoryView.Line(
                entry.key().toString(),
                entry.id(),
                backup.map(Backup::id).orElse(null),
                entry.database(),
                database.map(Database::name).orElse(entry.database()),
                database.map(d -> d.zone().getId()).orElse("UTC"),
                entry.kind().word(),
                running
                        ? Outcome.RUNNING.word()
                        : entry.run().map(Run::outcome).orElse(Outcome.OK).word(),
                entry.started(),
                ended.orElse(null),
                like.figure(ok, took, b -> b.tookMs() / 1000.0),
                like.figure(ok, bytes, Entries.Before::bytes),
                like.figure(ok, took > 0 ? bytes / took : 0, HistoryLines::perSecond),
                traits.bytesRead().isPresent() ? traits.bytesRead().getAsDouble() : null,
                traits.parallel().isPresent() ? traits.parallel().getAsInt() : null,
                slot.map(Slot::schedule).orElse(null),
                slot.map(s -> s.verdict().word()).orElse(null),
                slot.map(s -> CoverRows.seconds(s.spill())).orElse(0.0),
                backup.map(this::places).orElse(List.of()),
                backup.isPresent() && !demands.none(),
                backup.map(
                                b -> demands
                                        .broken(
                                                traits,
                                                b.kind().isData(),
                                                b.ended(),
                                                b.verified(),
                                                b.bestKnown(asOf),
                                                asOf)
                                        .stream()
                                        .map(Demands.Demand::word)
                                        .toList())
                        .orElse(List.of()),
                backup.map(b -> UncountedBackups.why(b, database, asOf)).orElse(""),
                running
                        ? ""
                        : entry.run().flatMap(Run::message).or(traits::note).orElse(""),
                folds.of(entry)
                        .map(f -> new HistoryView.Folded(f.size(), f.first()))
                        .orElse(null));
    }

    private static double perSecond(Entries.Before b) {
        return b.tookMs() <= 0 ? 0 : b.bytes() / (b.tookMs() / 1000.0);
    }

    private Demands demands(Optional<Database> database, Instant at) {
        return database.flatMap(d -> fleet.fleet().versionAt(d, at))
                .filter(PolicyVersion::enabled)
                .map(PolicyVersion::demands)
                .orElse(Demands.NONE);
    }

    static double bytes(Backup backup) {
        return backup.bytes()
                .orElse(backup.copies().stream()
                        .map(Copy::bytes)
                        .mapToDouble(b -> b.orElse(0))
                        .max()
                        .orElse(0));
    }

    private List<HistoryView.Place> places(Backup backup) {
        return backup.copies().stream()
                .filter(c -> !c.landed().isAfter(asOf))
                .map(c -> new HistoryView.Place(c.store(), fleet.storeName(c.store()), state(c)))
                .toList();
    }

    private String state(Copy copy) {
        if (copy.gone().filter(g -> !g.isAfter(asOf)).isPresent()) {
            return "gone";
        }
        return copy.spoiled().filter(s -> !s.found().isAfter(asOf)).isPresent() ? "spoiled" : "there";
    }

    /** How many bytes a second like ones wrote, the median; empty where too few are known. */
    OptionalDouble usualRate(Entry entry) {
        ZoneId zone = fleet.database(entry.database()).map(Database::zone).orElse(ZoneOffset.UTC);
        return new Like(entry, zone)
                .those()
                .compare(1, HistoryLines::perSecond)
                .map(c -> OptionalDouble.of(c.median()))
                .orElse(OptionalDouble.empty());
    }

    /** Those before one, asked for when the first figure needs them. */
    private final class Like {

        private final Entry entry;
        private final ZoneId zone;
        private Comparison.@Nullable Like<Entries.Before> those;

        Like(Entry entry, ZoneId zone) {
            this.entry = entry;
            this.zone = zone;
        }

        Comparison.Like<Entries.Before> those() {
            if (those == null) {
                Instant began = entry.backup().map(Backup::started).orElse(entry.started());
                int asked = entry.kind() == Kind.LOG ? Comparison.LOOKED_AT : Comparison.ASKED;
                those = Comparison.like(
                        began,
                        entries.before(entry.database(), entry.kind(), began, asked),
                        Entries.Before::started,
                        zone);
            }
            return those;
        }

        HistoryView.@Nullable Figure figure(boolean compared, double own, Function<Entries.Before, Double> figure) {
            if (own <= 0) {
                return null;
            }
            Optional<Comparison> c = compared ? those().compare(own, figure) : Optional.empty();
            return new HistoryView.Figure(
                    own,
                    c.map(Comparison::median).orElse(null),
                    c.map(Comparison::spread).orElse(null),
                    c.map(Comparison::of).orElse(0),
                    c.flatMap(Comparison::day)
                            .map(d -> d.getDisplayName(TextStyle.FULL, Locale.ENGLISH))
                            .orElse(null),
                    c.filter(Comparison::unusual).isPresent());
        }
    }
}
