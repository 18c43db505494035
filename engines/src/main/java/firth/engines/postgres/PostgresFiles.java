package firth.engines.postgres;

import firth.engines.Engine;
import firth.engines.Keys;
import firth.engines.Known;
import firth.engines.Looking;
import firth.engines.Observation;
import firth.engines.ObservedDatabase;
import firth.engines.Packed;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.TreeMap;

/** PostgreSQL's archives and base backups in a directory. */
public final class PostgresFiles implements Engine {

    private final List<Path> backups = new ArrayList<>();
    private final List<Segment> segments = new ArrayList<>();
    private final List<Path> histories = new ArrayList<>();
    private final List<Path> labels = new ArrayList<>();

    @Override
    public String name() {
        return "postgresql";
    }

    /** Whether a file of a name is one the engine keeps beside its backups: a timeline's history, or where a backup began and ended. */
    public static boolean isCompanion(String name) {
        String within = Packed.nameWithin(name);
        return TimelineHistory.isName(within) || BackupLabel.isName(within);
    }

    @Override
    public boolean takesDirectory(Path directory) {
        return BaseBackup.isOne(directory) && backups.add(directory);
    }

    @Override
    public boolean takesFile(Path file, BasicFileAttributes attributes, Keys keys) {
        String name = Packed.nameWithin(file.getFileName().toString());
        Optional<SegmentName> segment = SegmentName.parse(name);
        if (segment.isPresent()) {
            return segments.add(new Segment(
                    file,
                    segment.get(),
                    attributes.size(),
                    attributes.lastModifiedTime().toInstant(),
                    Known.key(file, attributes)));
        }
        if (TimelineHistory.isName(name)) {
            return histories.add(file);
        }
        return BackupLabel.isName(name) && labels.add(file);
    }

    @Override
    public Observation observe(Looking looking) throws IOException {
        Map<Long, PostgresSystem> systems = new TreeMap<>();
        SegmentReading reading = new SegmentReading(looking);
        for (Segment s : reading.read(segments)) {
            systems.computeIfAbsent(s.facts().systemIdentifier(), PostgresSystem::new)
                    .add(s);
        }
        List<BaseBackup> unclaimed = new ArrayList<>();
        for (Path directory : backups) {
            try {
                looking.reading(directory, 0);
                BaseBackup backup = BaseBackup.read(directory, looking);
                OptionalLong system = backup.system();
                if (system.isPresent()) {
                    systems.computeIfAbsent(system.getAsLong(), PostgresSystem::new)
                            .add(backup);
                } else {
                    unclaimed.add(backup);
                }
            } catch (IOException e) {
                looking.unread(directory, e);
            }
        }
        for (BaseBackup backup : unclaimed) {
            if (systems.size() == 1) {
                systems.values().iterator().next().add(backup);
            } else {
                looking.unread(backup.root(), "does not say which system it is of");
            }
        }
        companions(systems, looking);
        List<ObservedDatabase> databases = new ArrayList<>();
        for (PostgresSystem s : systems.values()) {
            databases.add(s.observed(looking));
        }
        return looking.found(databases);
    }

    /** Histories and labels do not say which system they are of: they belong to the one whose files lie beside them. */
    private void companions(Map<Long, PostgresSystem> systems, Looking looking) {
        for (Path file : histories) {
            try {
                TimelineHistory history = TimelineHistory.parse(
                        Packed.nameWithin(file.getFileName().toString()), content(file, looking.keys()));
                Instant written = Files.getLastModifiedTime(file).toInstant();
                beside(systems, file).forEach(s -> s.add(history, written, looking.path(file)));
            } catch (IOException e) {
                looking.unread(file, e);
            }
        }
        for (Path file : labels) {
            try {
                BackupLabel label = BackupLabel.parse(content(file, looking.keys()));
                beside(systems, file).forEach(s -> s.add(label, looking.path(file)));
            } catch (IOException e) {
                looking.unread(file, e);
            }
        }
    }

    private static List<PostgresSystem> beside(Map<Long, PostgresSystem> systems, Path file) {
        List<PostgresSystem> near =
                systems.values().stream().filter(s -> s.hasLogsBeside(file)).toList();
        return near.isEmpty() ? List.copyOf(systems.values()) : near;
    }

    private static String content(Path file, Keys keys) throws IOException {
        try (InputStream in = Packed.open(file, keys)) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
    }
}
