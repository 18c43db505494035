package firth.core.findings;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.history.History;
import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.PolicyVersion;
import firth.core.model.Probe;
import firth.core.model.SourceLogs;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * The logs that must still be at their source, for they have not come to as many stores as the policy asks for before they are deleted
 * there (docs/semantics.md, "How backups are taken").
 *
 * @param copies in how many stores each must have arrived
 * @param stretches the logs that have not, those of a stream that follow one another as one, in order
 * @param reached by stream, up to where logs are known
 */
public record SourceLogsLeft(int copies, List<LogStretch> stretches, Map<String, Long> reached) {

    /** Logs of a stream, from a position up to another and from a moment until another. */
    public record LogStretch(String stream, long from, long to, Instant since, Instant until) {}

    public SourceLogsLeft {
        stretches = List.copyOf(stretches);
        reached = Map.copyOf(reached);
    }

    /** Those of an evaluation; empty where its policy asks for nothing. Logs from before the version in force count for nothing. */
    public static Optional<SourceLogsLeft> of(Evaluation e) {
        Optional<PolicyVersion> version = e.version().filter(PolicyVersion::enabled);
        return version.flatMap(v -> v.taking().sourceLogs())
                .flatMap(SourceLogs::afterCopies)
                .map(copies -> new Reading(e, version.get().effectiveFrom(), copies).all());
    }

    /** Goes through the logs of the lineage that goes on. */
    private static final class Reading {
        private final Database database;
        private final History history;
        private final Instant asOf;
        private final long since;
        private final int copies;
        private final Map<String, Long> reached = new TreeMap<>();
        private final List<LogStretch> out = new ArrayList<>();

        Reading(Evaluation e, Instant since, int copies) {
            this.database = e.database();
            this.history = e.history();
            this.asOf = e.asOf();
            this.since = since.toEpochMilli();
            this.copies = copies;
        }

        SourceLogsLeft all() {
            List<Lineage> known = database.lineages();
            int lineage = 0;
            for (int l = 0; l < known.size(); l++) {
                lineage = known.get(l).openedAt().filter(asOf::isBefore).isEmpty() ? l : lineage;
            }
            List<LogStretch> lacking = new ArrayList<>();
            for (int i = 0; i < history.size(); i++) {
                if (history.kind(i) == Kind.LOG && history.lineage(i) == lineage && history.endedMs(i) <= now()) {
                    String stream = database.streams().get(history.stream(i));
                    reached.merge(stream, history.logTo(i), Math::max);
                    if (history.toTimeMs(i) >= since && arrived(i) < copies) {
                        lacking.add(new LogStretch(
                                stream,
                                history.logFrom(i),
                                history.logTo(i),
                                Instant.ofEpochMilli(history.fromTimeMs(i)),
                                Instant.ofEpochMilli(history.toTimeMs(i))));
                    }
                }
            }
            lacking.sort(Comparator.comparing(LogStretch::stream)
                    .thenComparing(LogStretch::from)
                    .thenComparing(LogStretch::to));
            lacking.forEach(this::add);
            return new SourceLogsLeft(copies, out, reached);
        }

        private long now() {
            return asOf.toEpochMilli();
        }

        private void add(LogStretch next) {
            LogStretch last = out.isEmpty() ? null : out.get(out.size() - 1);
            if (last == null || !last.stream.equals(next.stream) || last.to < next.from) {
                out.add(next);
                return;
            }
            out.set(
                    out.size() - 1,
                    new LogStretch(
                            last.stream,
                            last.from,
                            Math.max(last.to, next.to),
                            last.since.isBefore(next.since) ? last.since : next.since,
                            last.until.isAfter(next.until) ? last.until : next.until));
        }

        /** In how many stores it has arrived, whether or not it is there still. */
        private int arrived(int i) {
            BitSet stores = new BitSet();
            for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
                if (history.landedMs(c) <= now()) {
                    stores.set(history.storeIndex(c));
                }
            }
            return stores.cardinality();
        }
    }

    /**
     * That logs were deleted at their source before they had come to as many stores.
     *
     * @param probes what was found out of the database; the newest that says from where on the source has its logs counts
     */
    public Optional<Finding> gone(Database database, List<Probe> probes) {
        return probes.stream()
                .filter(p -> p.database().equals(database.id()) && !p.logsFrom().isEmpty())
                .max(Comparator.comparing(Probe::at).thenComparing(Probe::id))
                .flatMap(p -> gone(database, p));
    }

    private Optional<Finding> gone(Database database, Probe probe) {
        List<String> untaken = probe.logsFrom().entrySet().stream()
                .filter(f -> Optional.ofNullable(reached.get(f.getKey()))
                        .filter(r -> r < f.getValue())
                        .isPresent())
                .map(Map.Entry::getKey)
                .sorted()
                .toList();
        Optional<LogStretch> first = stretches.stream()
                .filter(s -> Optional.ofNullable(probe.logsFrom().get(s.stream))
                        .filter(f -> s.from < f)
                        .isPresent())
                .min(Comparator.comparing(LogStretch::since));
        if (untaken.isEmpty() && first.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(Finding.of(
                "source-logs-gone",
                Severity.RULE_BROKEN,
                database.id(),
                database.id(),
                first.map(LogStretch::since).or(() -> Optional.of(probe.at())),
                new Detail.SourceLogsGone(
                        copies, !untaken.isEmpty(), first.map(LogStretch::since), probe.at(), database.zone()),
                List.of()));
    }
}
