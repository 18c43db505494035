package firth.engines.postgres;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.engines.Keys;
import firth.engines.Known;
import firth.engines.Looking;
import firth.engines.Looking.Root;
import firth.engines.Observation;
import firth.engines.ObservedDatabase;
import firth.engines.Observer;
import firth.engines.Packed;
import java.io.IOException;
import java.io.InputStream;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Logs that real servers of other majors wrote (recorded/README.md), read as those servers themselves read them. */
class RecordedMajorsTest {

    private static Path recorded(String major) throws URISyntaxException {
        return Path.of(RecordedMajorsTest.class.getResource("recorded/" + major).toURI());
    }

    private static List<Path> segments(Path directory) throws IOException {
        try (Stream<Path> all = Files.list(directory)) {
            return all.filter(p -> SegmentName.parse(
                                    Packed.nameWithin(p.getFileName().toString()))
                            .isPresent())
                    .sorted()
                    .toList();
        }
    }

    private static byte[] content(Path file) throws IOException {
        try (InputStream in = Packed.open(file, Keys.NONE)) {
            return in.readAllBytes();
        }
    }

    private static List<SegmentFacts> read(SegmentFacts.Reader reader, Path directory) throws IOException {
        List<SegmentFacts> facts = new ArrayList<>();
        for (Path s : segments(directory)) {
            SegmentName name = SegmentName.parse(
                            Packed.nameWithin(s.getFileName().toString()))
                    .orElseThrow();
            try (InputStream in = Packed.open(s, Keys.NONE)) {
                facts.add(reader.read(in, name));
            }
        }
        return facts;
    }

    @ParameterizedTest
    @ValueSource(strings = {"13", "14", "16", "17"})
    void commitsAreThoseTheServerTellsOf(String major) throws Exception {
        Path directory = recorded(major);
        List<Instant> commits = Files.readAllLines(directory.resolve("commits.txt")).stream()
                .map(micros -> Instant.EPOCH.plus(Duration.ofNanos(Long.parseLong(micros) * 1_000)))
                .toList();
        List<SegmentFacts> facts = read(new SegmentFacts.Reader(), directory);
        assertEquals(3, facts.size());
        assertTrue(facts.stream().allMatch(SegmentFacts::whole), facts.toString());
        assertEquals(
                commits.size(), facts.stream().mapToLong(SegmentFacts::commits).sum());
        assertEquals(25, facts.stream().mapToLong(SegmentFacts::aborts).sum());
        assertEquals(
                commits.stream().max(Instant::compareTo),
                facts.stream().flatMap(f -> f.lastCommit().stream()).max(Instant::compareTo));
        assertTrue(facts.stream().anyMatch(f -> f.checkpoint().isPresent()));
    }

    @ParameterizedTest
    @ValueSource(strings = {"16", "17"})
    void everyRecordIsReadAsTheServerReadsIt(String major) throws Exception {
        Path directory = recorded(major);
        TreeMap<String, String> ours = new TreeMap<>();
        read(
                new SegmentFacts.Reader((r, bytes, at) -> ours.put(
                        Lsn.of(r.lsn()),
                        Lsn.of(r.previous()) + " " + Integer.toUnsignedString(r.transaction()) + " " + r.length())),
                directory);
        TreeMap<String, String> theirs = new TreeMap<>();
        new String(content(directory.resolve("records.txt.gz")), StandardCharsets.UTF_8)
                .lines()
                .forEach(line -> {
                    String[] of = line.split(" ");
                    theirs.put(of[0], of[1] + " " + of[2] + " " + of[3]);
                });
        assertTrue(theirs.size() > 1_000, theirs.size() + " records");
        assertEquals(theirs, ours);
    }

    @ParameterizedTest
    @ValueSource(strings = {"13", "14", "16", "17"})
    void observingSaysTheMajorAndReachesTheLastCommit(String major) throws Exception {
        Path directory = recorded(major);
        Observation found = new Observer(List.of(new PostgresFiles()))
                .observe(List.of(new Root("near", directory)), Known.nothing(), true, file -> {});
        assertEquals(1, found.databases().size());
        ObservedDatabase database = found.databases().get(0);
        assertEquals(Optional.of(major), database.version());
        List<String> commits = Files.readAllLines(directory.resolve("commits.txt"));
        long last = Long.parseLong(commits.get(commits.size() - 1));
        assertEquals(
                Optional.of(Instant.EPOCH.plus(Duration.ofNanos(last * 1_000))),
                database.backups().stream()
                        .flatMap(b -> b.lastCommit().stream())
                        .max(Instant::compareTo));
    }

    private static Manifest manifest(String backup) throws Exception {
        return Manifest.parse(content(recorded(backup).resolve("backup_manifest.gz")));
    }

    private static BackupLabel label(String backup) throws Exception {
        return BackupLabel.parse(Files.readString(recorded(backup).resolve("backup_label")));
    }

    @ParameterizedTest
    @ValueSource(strings = {"base-13", "base-14", "base-16", "base-17", "incremental-17"})
    void aManifestIsReadItsOwnChecksumAgreesAndItBeginsWhereTheLabelSays(String backup) throws Exception {
        Manifest manifest = manifest(backup);
        assertEquals(label(backup).start(), manifest.ranges().get(0).start());
        assertTrue(manifest.ranges().get(0).end() > label(backup).start());
        assertTrue(manifest.files().size() > 900, manifest.files().size() + " files");
        assertEquals(backup.endsWith("17"), manifest.systemIdentifier().isPresent(), "told from 17 on");
    }

    @Test
    void anIncrementalNamesTheFullByWhereThatBegins() throws Exception {
        assertEquals(
                OptionalLong.of(label("base-17").start()),
                label("incremental-17").incrementalFrom());
        assertEquals(OptionalLong.empty(), label("base-17").incrementalFrom());
        assertEquals(
                manifest("base-17").systemIdentifier(),
                manifest("incremental-17").systemIdentifier());
        Observation log = new Observer(List.of(new PostgresFiles()))
                .observe(List.of(new Root("near", recorded("17"))), Known.nothing(), true, file -> {});
        assertEquals(
                log.databases().get(0).identity(),
                Long.toUnsignedString(manifest("base-17").systemIdentifier().getAsLong()));
    }

    /** What each log is found to hold, wherever it lies. */
    private static Map<String, SegmentFacts> held(Path root, Known known) throws IOException {
        List<Segment> found = new ArrayList<>();
        try (Stream<Path> all = Files.walk(root)) {
            for (Path file : all.filter(p -> p.toString().endsWith(".gz")).toList()) {
                Optional<SegmentName> name =
                        SegmentName.parse(Packed.nameWithin(file.getFileName().toString()));
                if (name.isPresent()) {
                    BasicFileAttributes of = Files.readAttributes(file, BasicFileAttributes.class);
                    found.add(new Segment(
                            file, name.get(), of.size(), of.lastModifiedTime().toInstant(), Known.key(file, of)));
                }
            }
        }
        Looking looking = new Looking(List.of(new Root("near", root)), known, Keys.NONE, true, file -> {});
        return new SegmentReading(looking)
                .read(found).stream().collect(Collectors.toMap(s -> s.name().toString(), Segment::facts));
    }

    @ParameterizedTest
    @ValueSource(strings = {"13", "14", "16", "17"})
    void anArchiveOverSeveralDirectoriesIsReadAsOne(String major, @TempDir Path apart) throws Exception {
        List<Path> all = segments(recorded(major));
        for (int k = 0; k < all.size(); k++) {
            Path directory = Files.createDirectories(apart.resolve("day " + k));
            Files.copy(all.get(k), directory.resolve(all.get(k).getFileName()));
        }
        Map<String, SegmentFacts> together = held(recorded(major), Known.nothing());
        assertTrue(together.values().stream().filter(SegmentFacts::headless).count() <= 1, "but for the first");
        Known known = Known.nothing();
        assertEquals(together, held(apart, known));
        assertEquals(together, held(apart, known), "and again from what is kept");
    }
}
