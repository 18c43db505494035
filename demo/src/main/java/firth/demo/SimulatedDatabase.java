package firth.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;

/** A database of the demo: a directory in which its engine's settings, processes and log disk can be looked at. */
final class SimulatedDatabase {

    static final String ENGINE = "engine.properties";
    static final String PROCESSES = "processes";
    static final String LOG_DISK = "log-disk";
    static final String DISK = "disk.properties";

    private final Path home;
    private final Properties engine;

    SimulatedDatabase(Path home) throws IOException {
        this.home = home;
        this.engine = Harbour.read(home.resolve(ENGINE));
    }

    /** What stands under a name in its settings. */
    String setting(String name) {
        return engine.getProperty(name, "");
    }

    Set<String> settings(String name) {
        return Set.of(setting(name).split(","));
    }

    /** The processes it ought to have, and whether each is up. */
    Map<String, Boolean> processes() {
        Map<String, Boolean> out = new TreeMap<>();
        for (String name : settings(PROCESSES)) {
            out.put(name, Files.exists(home.resolve(PROCESSES).resolve(name)));
        }
        return out;
    }

    /** Room left on a log disk, and how fast it fills; both in bytes. */
    record Disk(double free, double fillPerSecond) {}

    Optional<Disk> logDisk() throws IOException {
        Path disk = home.resolve(LOG_DISK);
        if (!Files.exists(disk)) {
            return Optional.empty();
        }
        List<BasicFileAttributes> segments = new ArrayList<>();
        try (Stream<Path> files = Files.list(disk)) {
            for (Path file : files.filter(f -> !f.endsWith(DISK)).toList()) {
                segments.add(Files.readAttributes(file, BasicFileAttributes.class));
            }
        }
        segments.sort(Comparator.comparing(BasicFileAttributes::lastModifiedTime));
        double capacity = Double.parseDouble(Harbour.read(disk.resolve(DISK)).getProperty("capacityBytes"));
        double used = segments.stream().mapToLong(BasicFileAttributes::size).sum();
        double rate = 0;
        if (segments.size() > 1) {
            BasicFileAttributes first = segments.get(0);
            BasicFileAttributes last = segments.get(segments.size() - 1);
            Duration time = Duration.between(
                    first.lastModifiedTime().toInstant(),
                    last.lastModifiedTime().toInstant());
            rate = (used - first.size()) / Math.max(1, time.toSeconds());
        }
        return Optional.of(new Disk(capacity - used, rate));
    }
}
