package firth.runner;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** The slot under which the log of a PostgreSQL server is received: the server keeps what was not. */
record PostgresSlot(Psql psql, String name) {

    /** What was written on a server is received as soon as the network brings it. */
    private static final Duration CATCHES_UP = Duration.ofSeconds(3);

    private static final Duration LOOKS = Duration.ofMillis(200);

    /** So many segments beyond what is kept are looked for before it goes on. */
    private static final int FOLLOWED = 1_000;

    private static final Pattern SEGMENT = Pattern.compile("[0-9A-F]{24}");

    /** A segment that is being received. */
    private static final Pattern OPEN = Pattern.compile("[0-9A-F]{24}\\.partial");

    /** What it is called, by the id of the database. */
    static String of(String database) {
        return "firth_" + database.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]", "_");
    }

    /** What receives the log into a directory, each part at once on the disk, until it is ended. */
    List<String> receiving(Path into) {
        return List.of(
                psql.program("pg_receivewal"),
                "-d",
                psql.connection(),
                "-w",
                "-D",
                into.toString(),
                "--slot=" + name,
                "--no-loop",
                "--synchronous");
    }

    /** Of the slot, or {@code otherwise} where there is none. */
    private String ask(String what, String otherwise) throws Trouble, InterruptedException {
        return psql.row("select coalesce((select " + what + " from pg_replication_slots where slot_name = '" + name
                        + "'), " + otherwise + ")")
                .get(0);
    }

    /** Sees to it that it is there and of use: one that the server let go of keeps nothing, and is made anew. */
    void keep() throws Trouble, InterruptedException {
        String status = ask("wal_status", "'none'");
        if (status.equals("lost")) {
            psql.row("select pg_drop_replication_slot('" + name + "')");
        }
        if (status.equals("lost") || status.equals("none")) {
            psql.row("select pg_create_physical_replication_slot('" + name + "', true)");
        }
    }

    /** Ends what receives already, such as a program whose runner was killed: whoever comes as the same account may. */
    void free() throws Trouble, InterruptedException {
        Instant until = Instant.now().plus(CATCHES_UP);
        while (isActive() && Instant.now().isBefore(until)) {
            ask("pg_terminate_backend(active_pid)", "false");
            Thread.sleep(LOOKS.toMillis());
        }
    }

    /**
     * Takes a segment out of the way that was cut off while room was made for it: the engine's program refuses to go on with it, and
     * nothing has been written to it yet.
     */
    void clear(Path directory) throws IOException, Trouble, InterruptedException {
        List<Path> open;
        try (Stream<Path> all = Files.list(directory)) {
            open = all.filter(p -> OPEN.matcher(p.getFileName().toString()).matches())
                    .toList();
        }
        if (open.isEmpty()) {
            return;
        }
        long whole = Long.parseLong(psql.row("select setting from pg_settings where name = 'wal_segment_size'")
                .get(0));
        for (Path each : open) {
            if (Files.size(each) < whole) {
                Files.delete(each);
            }
        }
    }

    /** Whether anything receives. */
    boolean isActive() throws Trouble, InterruptedException {
        return ask("active", "false").equals("t");
    }

    /** Whether what it keeps lies behind a segment, so that between them there may be what the server does not have any longer. */
    boolean hasOnlyAfter(Optional<String> segment) throws Trouble, InterruptedException {
        return segment.isPresent()
                && ask("pg_walfile_name(restart_lsn) > '" + segment.get() + "'", "false")
                        .equals("t");
    }

    /**
     * Whether between what it keeps and the newest segment of the last of some directories there is one that lies in none of them.
     *
     * @param archives as {@link #archives} gives them
     */
    boolean wouldPassOver(List<Path> archives) throws IOException, Trouble, InterruptedException {
        Optional<String> newest = newest(archives.get(archives.size() - 1));
        if (newest.isEmpty()) {
            return false;
        }
        // The segments from the one that is kept on, as the server counts them; of another timeline there are none.
        List<String> asked = psql.lines("select pg_walfile_name(r.restart_lsn + n * w.setting::bigint + 1)"
                + " from pg_replication_slots r, pg_settings w, generate_series(0, " + FOLLOWED + ") n"
                + " where r.slot_name = '" + name + "' and w.name = 'wal_segment_size' and r.restart_lsn is not null"
                + " and pg_walfile_name(r.restart_lsn + n * w.setting::bigint + 1) < '" + newest.get() + "'");
        Set<String> there = new HashSet<>();
        for (Path each : archives) {
            there.addAll(segments(each));
        }
        return !there.containsAll(asked);
    }

    /** Up to when everything that was committed has been received; empty where that does not come to be within a few seconds. */
    Optional<Instant> receivedUntil() throws Trouble, InterruptedException {
        List<String> is = psql.row("select " + Psql.CLOCK + ", pg_current_wal_flush_lsn()");
        Instant until = Instant.now().plus(CATCHES_UP);
        while (!isReceived(is.get(1))) {
            if (Instant.now().isAfter(until)) {
                return Optional.empty();
            }
            Thread.sleep(LOOKS.toMillis());
        }
        return Optional.of(Instant.parse(is.get(0)).minus(PostgresInstance.LATE).truncatedTo(ChronoUnit.MILLIS));
    }

    private boolean isReceived(String position) throws Trouble, InterruptedException {
        return ask("(select flush_lsn from pg_stat_replication where pid = active_pid) >= '" + position + "'", "false")
                .equals("t");
    }

    /** Directories its log comes to, the first being its archive, the last the one it is received into: each begins where another broke off. */
    static List<Path> archives(Path archive) throws IOException {
        List<Path> out = new ArrayList<>(List.of(archive));
        String name = archive.getFileName() + "-";
        try (Stream<Path> beside = Files.list(Objects.requireNonNull(archive.getParent()))) {
            beside.filter(p -> p.getFileName().toString().startsWith(name) && Files.isDirectory(p))
                    .sorted()
                    .forEach(out::add);
        }
        return out;
    }

    /** The name of the newest segment in a directory, whole or not; empty where there is none. */
    static Optional<String> newest(Path directory) throws IOException {
        return segments(directory).stream().max(Comparator.naturalOrder());
    }

    /** The names of the segments in a directory, whole or not. */
    private static Set<String> segments(Path directory) throws IOException {
        try (Stream<Path> all = Files.list(directory)) {
            return all.map(p -> SEGMENT.matcher(p.getFileName().toString()))
                    .filter(Matcher::lookingAt)
                    .map(Matcher::group)
                    .collect(Collectors.toSet());
        }
    }
}
