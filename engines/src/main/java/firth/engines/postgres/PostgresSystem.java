package firth.engines.postgres;

import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.Positions;
import firth.engines.Looking;
import firth.engines.ObservedBackup;
import firth.engines.ObservedBackup.Written;
import firth.engines.ObservedDatabase;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.TreeMap;
import java.util.stream.Stream;

/** Everything found of one system, which the engine tells by its identifier. */
final class PostgresSystem {

    private static final int DEFAULT_SEGMENT = 16 << 20;
    private static final Map<Integer, String> MAJORS =
            Map.of(0xD106, "13", 0xD10D, "14", 0xD110, "15", 0xD113, "16", 0xD116, "17");

    private final long identifier;
    private final List<Segment> files = new ArrayList<>();
    private final Map<SegmentName, Segment> segments = new HashMap<>();
    private final List<BaseBackup> backups = new ArrayList<>();
    private final Map<Integer, TimelineHistory> histories = new TreeMap<>();
    private final Map<Integer, Instant> historiesWritten = new HashMap<>();
    private final List<BackupLabel> labels = new ArrayList<>();
    private final List<String> companions = new ArrayList<>();

    PostgresSystem(long identifier) {
        this.identifier = identifier;
    }

    /** Of the same log in two files the one that holds more tells; of equal ones the first. */
    void add(Segment s) {
        files.add(s);
        if (s.facts().isTaken()) {
            segments.merge(s.name(), s, (a, b) -> b.facts().end() > a.facts().end() ? b : a);
        }
    }

    void add(BaseBackup b) {
        backups.add(b);
    }

    void add(TimelineHistory h, Instant written, String path) {
        histories.putIfAbsent(h.timeline(), h);
        historiesWritten.merge(h.timeline(), written, (a, b) -> a.isBefore(b) ? a : b);
        companions.add(path);
    }

    void add(BackupLabel l, String path) {
        labels.add(l);
        companions.add(path);
    }

    boolean hasLogsBeside(Path file) {
        return segments.values().stream()
                .anyMatch(s -> s.file().resolveSibling(file.getFileName()).equals(file));
    }

    ObservedDatabase observed(Looking looking) {
        Timelines timelines = new Timelines(histories, historiesWritten, segments.values(), backups);
        LogTimesFound times = new LogTimesFound(segments.values(), timelines);
        List<ObservedBackup> all = new ArrayList<>();
        for (Segment s : files) {
            all.add(log(s, times, looking));
        }
        for (BaseBackup b : backups) {
            data(b, times, looking).ifPresent(all::add);
        }
        all.sort(Comparator.comparing(ObservedBackup::name));
        return new ObservedDatabase(
                "postgresql",
                Long.toUnsignedString(identifier),
                segments.values().stream()
                        .map(s -> s.facts().magic())
                        .max(Integer::compare)
                        .map(MAJORS::get),
                all.stream()
                        .flatMap(b -> Stream.of(
                                b.started(), b.times().map(t -> t.from()).orElse(b.consistentAt())))
                        .min(Instant::compareTo)
                        .orElse(Instant.EPOCH),
                timelines.lineages(),
                all,
                companions);
    }

    private static ObservedBackup log(Segment s, LogTimesFound found, Looking looking) {
        SegmentFacts f = s.facts();
        LogTimesFound.Times t = found.of(s);
        long end = f.isTaken() ? f.end() : f.start() + f.segmentSize();
        return new ObservedBackup(
                s.name().whole(),
                looking.store(s.file()),
                looking.path(s.file()),
                Kind.LOG,
                Optional.empty(),
                Integer.toString(s.name().timeline()),
                Optional.of(new Positions(f.start(), end)),
                Optional.of(new Written(Lsn.of(f.start()), Lsn.of(end))),
                Optional.of(t.covered()),
                t.lastCommit(),
                f.whole(),
                t.covered().from(),
                t.covered().to(),
                t.covered().to(),
                false,
                s.written(),
                s.size(),
                looking.form(s.file()),
                f.whole() ? Evidence.CHECKED : Evidence.READ,
                f.isTaken() ? Optional.empty() : Optional.of(SegmentReading.refusal(f)),
                List.of());
    }

    private Optional<ObservedBackup> data(BaseBackup b, LogTimesFound times, Looking looking) {
        OptionalLong end = b.end().isPresent() ? b.end() : endInArchive(b.label());
        if (end.isEmpty()) {
            looking.unread(
                    b.root(),
                    "does not say where it ends: it has no manifest, and the archive has no .backup file of "
                            + Lsn.of(b.label().start()));
            return Optional.empty();
        }
        long from = b.label().start();
        long to = end.getAsLong();
        Instant stopped = labels.stream()
                .filter(l -> l.start() == from)
                .flatMap(l -> l.stopped().stream())
                .findFirst()
                .orElse(b.ended());
        Instant consistentAt = times.consistentAt(b.timeline(), to, stopped, b.ended());
        Instant started = b.label().started().orElse(stopped);
        String path = looking.path(b.root());
        return Optional.of(new ObservedBackup(
                name(b.label()),
                looking.store(b.root()),
                path.isEmpty() ? "." : path,
                b.label().incrementalFrom().isPresent() ? Kind.INCR : Kind.FULL,
                parent(b),
                Integer.toString(b.timeline()),
                Optional.of(new Positions(from, to)),
                Optional.of(new Written(Lsn.of(from), Lsn.of(to))),
                Optional.empty(),
                Optional.empty(),
                true,
                started.isAfter(consistentAt) ? consistentAt : started,
                b.ended().isBefore(consistentAt) ? consistentAt : b.ended(),
                consistentAt,
                b.holdsItsLog(segmentSize()),
                b.ended(),
                b.members().stream().mapToLong(ObservedBackup.Member::bytes).sum(),
                b.form(),
                b.evidence(),
                b.wrong().isEmpty() ? Optional.empty() : Optional.of(b.wrong()),
                b.members()));
    }

    /** After the segment it starts in, and where there. */
    private String name(BackupLabel label) {
        return "base-" + SegmentName.holding(label.timeline(), label.start(), segmentSize()) + "-"
                + Long.toHexString(label.start() % segmentSize());
    }

    /** What an incremental rests on: the backup that begins where it says. */
    private Optional<String> parent(BaseBackup b) {
        OptionalLong from = b.label().incrementalFrom();
        if (from.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(backups.stream()
                .filter(other -> other.label().start() == from.getAsLong())
                .findFirst()
                .map(other -> name(other.label()))
                .orElse("base-at-" + Long.toHexString(from.getAsLong())));
    }

    private OptionalLong endInArchive(BackupLabel label) {
        return labels.stream()
                .filter(l -> l.start() == label.start() && l.timeline() == label.timeline())
                .map(BackupLabel::end)
                .filter(OptionalLong::isPresent)
                .findFirst()
                .orElse(OptionalLong.empty());
    }

    private int segmentSize() {
        return files.stream().findFirst().map(s -> s.facts().segmentSize()).orElse(DEFAULT_SEGMENT);
    }
}
