package firth.engines.sqlite;

import firth.core.model.Backup.LogTimes;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.core.model.Positions;
import firth.engines.Known;
import firth.engines.Looking;
import firth.engines.ObservedBackup;
import firth.engines.ObservedBackup.Member;
import firth.engines.ObservedBackup.Written;
import firth.engines.Packed;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A directory with a copy of a database whose log is kept, or with a piece of that log. A position is the number of a boundary between two
 * pieces.
 *
 * @param data the file that holds it
 * @param wrong why it restores nothing, as a clause; empty where it does
 */
record KeptCopy(
        Path root, Path data, Place place, List<Member> members, Instant landed, boolean checked, String wrong) {

    private static final String GOOD = "good";

    static KeptCopy read(Path root, Looking looking) throws IOException {
        Place place = Place.read(root, looking.keys());
        String name = place.isLog() ? Place.LOG : place.of() + ".db";
        Path data = Packed.find(root, name).orElseThrow(() -> new IOException("has no file " + name));
        List<Member> members = new ArrayList<>();
        Instant landed = Instant.EPOCH;
        try (Stream<Path> all = Files.list(root)) {
            for (Path file : all.filter(Files::isRegularFile).sorted().toList()) {
                members.add(new Member(file.getFileName().toString(), Files.size(file)));
                Instant written = Files.getLastModifiedTime(file).toInstant();
                landed = written.isAfter(landed) ? written : landed;
            }
        }
        String wrong = looking.checks() || place.isLog() ? wrong(place, data, looking) : "";
        return new KeptCopy(root, data, place, members, landed, looking.checks() || place.isLog(), wrong);
    }

    String of() {
        return place.of();
    }

    /** A log is read through once, for it is short; a copy of the database where the look is thorough. */
    private static String wrong(Place place, Path data, Looking looking) throws IOException {
        String key = Known.key(data, Files.readAttributes(data, BasicFileAttributes.class));
        Optional<String> before =
                looking.checks() ? Optional.empty() : looking.known().get(key);
        if (before.isEmpty()) {
            looking.reading(data, Files.size(data));
            String now = place.isLog() ? log(place, data, looking) : database(data, looking);
            before = Optional.of(now.isEmpty() ? GOOD : now);
            looking.known().put(key, before.get());
        }
        return before.get().equals(GOOD) ? "" : before.get();
    }

    private static String log(Place place, Path data, Looking looking) {
        long stated = place.seen().isEmpty()
                ? 0
                : place.seen().get(place.seen().size() - 1).frames();
        try (InputStream in = new BufferedInputStream(Packed.open(data, looking.keys()))) {
            long frames = WriteAheadLog.read(in).frames();
            return frames < stated
                    ? "it has " + frames + " frames that can be read, and " + stated + " are said to be in it"
                    : "";
        } catch (IOException e) {
            return "it cannot be read: " + e.getMessage();
        }
    }

    private static String database(Path data, Looking looking) throws IOException {
        if (Packed.nameWithin(data.getFileName().toString())
                .equals(data.getFileName().toString())) {
            return RestoredFile.wrong(data);
        }
        Path plain = Files.createTempFile("firth", ".db");
        try {
            try (InputStream in = Packed.open(data, looking.keys())) {
                Files.copy(in, plain, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
            } catch (IOException e) {
                return "it cannot be read: " + e.getMessage();
            }
            return RestoredFile.wrong(plain);
        } finally {
            Files.delete(plain);
        }
    }

    ObservedBackup backup(Looking looking) {
        long end = place.number();
        Instant from = place.from().orElse(place.until());
        long begin = place.isLog() ? end - 1 : end;
        Instant last = place.seen().isEmpty()
                ? from
                : place.seen().get(place.seen().size() - 1).at();
        return new ObservedBackup(
                (place.isLog() ? "log-" : "copy-")
                        + end
                        + (place.isLog() ? "" : "-" + root.getFileName().toString())
                                .replaceAll("[^A-Za-z0-9._:-]", "-"),
                looking.store(root),
                looking.path(root),
                place.isLog() ? Kind.LOG : Kind.FULL,
                Optional.empty(),
                Lineage.FIRST.id(),
                Optional.of(new Positions(begin, end)),
                Optional.of(new Written(Long.toString(begin), Long.toString(end))),
                place.isLog() ? Optional.of(new LogTimes(from, place.until())) : Optional.empty(),
                place.isLog() ? Optional.of(last).filter(l -> !l.isAfter(place.until())) : Optional.empty(),
                true,
                from,
                place.until(),
                place.until(),
                !place.isLog(),
                landed,
                members.stream().mapToLong(Member::bytes).sum(),
                looking.form(data),
                checked && wrong.isEmpty() ? place.isLog() ? Evidence.CHECKED : Evidence.VERIFIED : Evidence.READ,
                wrong.isEmpty() ? Optional.empty() : Optional.of(wrong),
                members);
    }
}
