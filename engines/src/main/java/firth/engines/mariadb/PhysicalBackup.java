package firth.engines.mariadb;

import firth.engines.Keys;
import firth.engines.ObservedBackup.Member;
import firth.engines.Packed;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * A directory the server's physical backup program wrote. The moments in its files carry no zone, so none of them is used.
 *
 * @param from the log sequence number of the storage engine it begins at, 0 where it is full
 * @param to up to which it has the pages
 * @param rests the directory it was told it is an incremental of
 * @param coordinate where the binary logs stood; absent where the server wrote none
 * @param numbers the last transactions, where the server numbers them
 */
record PhysicalBackup(
        Path root,
        boolean incremental,
        long from,
        long to,
        Optional<String> rests,
        Optional<Coordinate> coordinate,
        Optional<String> numbers,
        List<Member> members,
        Instant ended) {

    private static final List<String> CHECKPOINTS = List.of("mariadb_backup_checkpoints", "xtrabackup_checkpoints");
    private static final List<String> INFO = List.of("mariadb_backup_info", "xtrabackup_info");
    private static final List<String> BINARY_LOG = List.of("mariadb_backup_binlog_info", "xtrabackup_binlog_info");
    private static final Pattern BASE = Pattern.compile("--incremental-basedir[= ](?:'([^']+)'|\"([^\"]+)\"|(\\S+))");

    PhysicalBackup {
        members = List.copyOf(members);
    }

    /** A file of it that was packed, and encrypted if any was; empty where it lies as the program wrote it. */
    Optional<String> packed() {
        return members.stream()
                .map(Member::path)
                .filter(p -> Keys.isSealed(p) || Packed.of(p) != Packed.PLAIN)
                .findFirst();
    }

    static boolean isOne(Path directory) {
        return file(directory, CHECKPOINTS).isPresent();
    }

    private static Optional<Path> file(Path directory, List<String> names) {
        return names.stream()
                .map(directory::resolve)
                .filter(Files::isRegularFile)
                .findFirst();
    }

    /** @throws IOException where its files do not say what it is; says why in a clause */
    static PhysicalBackup read(Path root) throws IOException {
        Map<String, String> checkpoints =
                settings(Files.readString(file(root, CHECKPOINTS).orElseThrow()));
        String type = checkpoints.get("backup_type");
        if (type == null || !checkpoints.containsKey("to_lsn")) {
            throw new IOException("does not say what kind of backup it is: it was not finished");
        }
        Map<String, String> info = new HashMap<>();
        Optional<Path> told = file(root, INFO);
        if (told.isPresent()) {
            info.putAll(settings(Files.readString(told.get())));
        } else {
            throw new IOException("has no " + INFO.get(0) + " or " + INFO.get(1) + ": it was not finished");
        }
        List<Member> members = new ArrayList<>();
        Instant ended = Instant.EPOCH;
        try (Stream<Path> all = Files.walk(root)) {
            for (Path f :
                    (Iterable<Path>) all.filter(p -> Files.isRegularFile(p, LinkOption.NOFOLLOW_LINKS))::iterator) {
                members.add(new Member(root.relativize(f).toString(), Files.size(f)));
                Instant written = Files.getLastModifiedTime(f).toInstant();
                ended = written.isAfter(ended) ? written : ended;
            }
        }
        Optional<Stood> stood = stood(root, info);
        Matcher base = BASE.matcher(info.getOrDefault("tool_command", ""));
        try {
            return new PhysicalBackup(
                    root,
                    type.equals("incremental"),
                    Long.parseLong(checkpoints.getOrDefault("from_lsn", "0")),
                    Long.parseLong(checkpoints.get("to_lsn")),
                    base.find()
                            ? Optional.of(Stream.of(base.group(1), base.group(2), base.group(3))
                                    .filter(g -> g != null)
                                    .findFirst()
                                    .orElseThrow())
                            : Optional.empty(),
                    stood.map(Stood::at),
                    stood.flatMap(Stood::numbers),
                    members,
                    ended);
        } catch (NumberFormatException e) {
            throw new IOException("has no number where it says up to where it goes", e);
        }
    }

    /** Where the binary logs stood. */
    private record Stood(Coordinate at, Optional<String> numbers) {}

    private static Optional<Stood> stood(Path root, Map<String, String> info) throws IOException {
        Optional<Path> file = file(root, BINARY_LOG);
        if (file.isPresent()) {
            String[] parts = Files.readString(file.get()).strip().split("\t", -1);
            return parts.length < 2
                    ? Optional.empty()
                    : coordinate(parts[0], parts[1])
                            .map(c -> new Stood(
                                    c,
                                    parts.length > 2 && !parts[2].isBlank()
                                            ? Optional.of(parts[2].strip())
                                            : Optional.empty()));
        }
        Matcher m =
                Pattern.compile("filename '([^']+)', position '(\\d+)'").matcher(info.getOrDefault("binlog_pos", ""));
        return m.find()
                ? coordinate(m.group(1), m.group(2)).map(c -> new Stood(c, Optional.empty()))
                : Optional.empty();
    }

    static Optional<Coordinate> coordinate(String file, String offset) {
        try {
            return Coordinate.ofFile(file.strip()).map(c -> c.at(Long.parseLong(offset.strip())));
        } catch (NumberFormatException e) {
            return Optional.empty();
        }
    }

    private static Map<String, String> settings(String content) {
        Map<String, String> out = new HashMap<>();
        for (String line : content.lines().toList()) {
            int at = line.indexOf('=');
            if (at > 0) {
                out.put(line.substring(0, at).strip(), line.substring(at + 1).strip());
            }
        }
        return out;
    }
}
