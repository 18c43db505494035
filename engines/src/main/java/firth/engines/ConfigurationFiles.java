package firth.engines;

import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Copies of an engine's configuration: directories {@code config-STAMP} beside the backups of a database, with {@value #SETTINGS} in
 * each, which is written last (docs/engines.md, "Configuration").
 */
public final class ConfigurationFiles {

    /** What the engine says itself that it is set to. */
    public static final String SETTINGS = "settings.txt";

    private static final String PREFIX = "config-";
    private static final DateTimeFormatter STAMP = DateTimeFormatter.ofPattern("uuuuMMdd'T'HHmmssSSS'Z'", Locale.ROOT);

    private final List<Path> directories = new ArrayList<>();

    /** What a copy is called that is begun at a moment. */
    public static String name(Instant begun) {
        return PREFIX + STAMP.format(begun.atOffset(ZoneOffset.UTC));
    }

    private static Optional<Instant> begun(Path directory) {
        String name = directory.getFileName().toString();
        try {
            return name.startsWith(PREFIX)
                    ? Optional.of(LocalDateTime.parse(name.substring(PREFIX.length()), STAMP)
                            .toInstant(ZoneOffset.UTC))
                    : Optional.empty();
        } catch (DateTimeException other) {
            return Optional.empty();
        }
    }

    /** Whether a directory is one as a whole. */
    boolean takesDirectory(Path directory) {
        return begun(directory).isPresent()
                && Packed.find(directory, SETTINGS).isPresent()
                && directories.add(directory);
    }

    /** The databases with the copies that lie beside their backups. */
    List<ObservedDatabase> beside(List<ObservedDatabase> databases, Looking looking) {
        List<ObservedDatabase> out = new ArrayList<>(databases);
        for (Path directory : directories) {
            try {
                int of = owner(out, directory, looking);
                if (of < 0) {
                    looking.unread(directory, "is a configuration, and beside it lies no backup of a database");
                } else {
                    out.set(of, with(out.get(of), backup(directory, out.get(of), looking)));
                }
            } catch (IOException e) {
                looking.unread(directory, e);
            }
        }
        return out;
    }

    private static int owner(List<ObservedDatabase> databases, Path directory, Looking looking) {
        String path = looking.path(directory);
        String home = path.substring(0, path.lastIndexOf('/') + 1);
        String store = looking.store(directory);
        for (int d = 0; d < databases.size(); d++) {
            if (databases.get(d).backups().stream()
                    .anyMatch(b -> b.store().equals(store) && b.path().startsWith(home))) {
                return d;
            }
        }
        return -1;
    }

    private static ObservedDatabase with(ObservedDatabase d, ObservedBackup more) {
        List<ObservedBackup> backups = new ArrayList<>(d.backups());
        backups.add(more);
        return new ObservedDatabase(
                d.engine(), d.identity(), d.version(), d.since(), d.lineages(), backups, d.companions());
    }

    private static ObservedBackup backup(Path directory, ObservedDatabase of, Looking looking) throws IOException {
        List<ObservedBackup.Member> members = new ArrayList<>();
        try (Stream<Path> all = Files.walk(directory)) {
            for (Path file : (Iterable<Path>) all.filter(Files::isRegularFile).sorted()::iterator) {
                members.add(new ObservedBackup.Member(directory.relativize(file).toString(), Files.size(file)));
            }
        }
        looking.reading(directory, 0);
        Instant begun = begun(directory).orElseThrow();
        Instant written = Files.getLastModifiedTime(
                        Packed.find(directory, SETTINGS).orElseThrow())
                .toInstant()
                .truncatedTo(ChronoUnit.MILLIS);
        Instant ended = written.isBefore(begun) ? begun : written;
        List<Lineage> lineages = of.lineages();
        return new ObservedBackup(
                directory.getFileName().toString(),
                looking.store(directory),
                looking.path(directory),
                Kind.CONFIG,
                Optional.empty(),
                lineages.get(lineages.size() - 1).id(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                true,
                begun,
                ended,
                ended,
                true,
                ended,
                members.stream().mapToLong(ObservedBackup.Member::bytes).sum(),
                looking.form(Packed.find(directory, SETTINGS).orElseThrow()),
                Evidence.READ,
                Optional.empty(),
                members);
    }
}
