package firth.demo;

import java.io.IOException;
import java.io.OutputStream;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Properties;

/**
 * The machines of the demo fleet as a tree of directories: a directory a host with its simulated databases, and one a store. In
 * it stands what a runner can find out by looking; docs/demo.md tells the stories.
 */
final class Harbour {

    /** What is not as it should be, by database. */
    private static final Map<String, Map<String, String>> STORIES = Map.of(
            "manifests", Map.of("log.hours", "50", "log.room.hours", "9"),
            "webshop", Map.of("account.needed", "read data,read orders,start backup"),
            "payroll", Map.of("account.held", "read data,start backup,drop database"),
            "moorings", Map.of("logs.running", "off", "logs.configured", "on"),
            "kiosk-north", Map.of("scheduler", "off"),
            "tides", Map.of("client", "2019"),
            "harbour-log", Map.of("processes.down", "log writer"),
            "loyalty", Map.of("name.scheduler", "Loyalty"));

    /** Where each store runs, and how much it has left. */
    private static final Map<String, Map<String, String>> STORES = Map.of(
            "quay-near", Map.of("host", "northquay-stack", "freeBytes", "1.6e12", "capacityBytes", "1.72e13"),
            "south-near", Map.of("host", "southquay-2", "freeBytes", "1.44e13", "capacityBytes", "1.6e13"),
            "harbour-far", Map.of("host", "southquay-vault", "freeBytes", "2.2e13"),
            "skerry-deep", Map.of("host", "skerry-library", "freeBytes", "1.1e14"));

    private static final Map<String, List<String>> ROUTES = Map.of(
            "northquay", List.of("quay-near", "harbour-far"),
            "northquay-deep", List.of("quay-near", "harbour-far", "skerry-deep"),
            "southquay", List.of("south-near", "quay-near"));

    private final Path tree;
    private final Instant now;

    private Harbour(Path tree, Instant now) {
        this.tree = tree;
        this.now = now;
    }

    /** Builds it below a directory, where it does not stand yet. */
    static void build(Path tree, Instant now) throws IOException {
        if (Files.isDirectory(tree)) {
            return;
        }
        Path unfinished = Files.createTempDirectory(
                Files.createDirectories(tree.toAbsolutePath().getParent()), tree.getFileName() + ".");
        new Harbour(unfinished, now).build();
        Files.move(unfinished, tree);
    }

    private void build() throws IOException {
        for (Map.Entry<String, Map<String, String>> store : STORES.entrySet()) {
            Path home = Files.createDirectories(tree.resolve("stores").resolve(store.getKey()));
            write(home.resolve(SimulatedStore.ABOUT), store.getValue());
        }
        write(tree.resolve("stores/quay-near").resolve(SimulatedStore.QUOTAS), Map.of("manifests", "0"));
        for (Ferry ferry : new SaltmarshFerries(now, SaltmarshFerries.SEED).ferries()) {
            database(ferry);
        }
    }

    private void database(Ferry ferry) throws IOException {
        String version = ferry.engine.replaceFirst(".* ", "");
        boolean logs = ferry.rhythm != Ferry.Rules.KIOSKS;
        Properties says = new Properties();
        says.putAll(Map.of(
                "name",
                ferry.id,
                "name.scheduler",
                ferry.id,
                "server",
                version,
                "client",
                version,
                "logs.running",
                logs ? "on" : "off",
                "logs.configured",
                logs ? "on" : "off",
                "scheduler",
                "on",
                "account.held",
                "read data,start backup",
                "account.needed",
                "read data,start backup",
                "stores",
                String.join(",", ROUTES.get(ferry.route()))));
        says.putAll(Map.of(
                "processes", logs ? "archiver,log writer" : "engine", "log.hours", "6", "log.room.hours", "240"));
        says.putAll(STORIES.getOrDefault(ferry.id, Map.of()));
        Path home = Files.createDirectories(
                tree.resolve("hosts").resolve(ferry.host()).resolve(ferry.id));
        write(home.resolve(SimulatedDatabase.ENGINE), says);
        Path processes = Files.createDirectories(home.resolve(SimulatedDatabase.PROCESSES));
        for (String process : says.getProperty("processes").split(",")) {
            if (!process.equals(says.getProperty("processes.down"))) {
                Files.createFile(processes.resolve(process));
            }
        }
        if (logs) {
            logDisk(home.resolve(SimulatedDatabase.LOG_DISK), says, ferry.gigabytes);
        }
    }

    /** A segment an hour for as long as nothing was taken away, and room for some hours more. The files are hollow. */
    private void logDisk(Path disk, Properties says, double gigabytes) throws IOException {
        Files.createDirectories(disk);
        long segment = (long) (gigabytes * 2e4 * 60);
        int hours = Integer.parseInt(says.getProperty("log.hours"));
        for (int hour = 0; hour < hours; hour++) {
            Path file = disk.resolve(String.format(Locale.ROOT, "segment-%03d", hours - hour));
            try (RandomAccessFile hollow = new RandomAccessFile(file.toFile(), "rw")) {
                hollow.setLength(segment);
            }
            Files.setLastModifiedTime(file, FileTime.from(now.minus(Duration.ofHours(hour))));
        }
        long capacity = segment * (hours + Long.parseLong(says.getProperty("log.room.hours")));
        write(disk.resolve(SimulatedDatabase.DISK), Map.of("capacityBytes", String.valueOf(capacity)));
    }

    private static void write(Path file, Map<?, ?> values) throws IOException {
        Properties out = new Properties();
        out.putAll(values);
        try (OutputStream to = Files.newOutputStream(file)) {
            out.store(to, null);
        }
    }

    static Properties read(Path file) throws IOException {
        Properties out = new Properties();
        if (Files.exists(file)) {
            try (var from = Files.newInputStream(file)) {
                out.load(from);
            }
        }
        return out;
    }
}
