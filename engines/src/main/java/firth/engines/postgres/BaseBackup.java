package firth.engines.postgres;

import firth.core.model.Evidence;
import firth.engines.Known;
import firth.engines.Looking;
import firth.engines.ObservedBackup.Form;
import firth.engines.ObservedBackup.Member;
import firth.engines.Packed;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.apache.commons.compress.archivers.tar.TarArchiveEntry;
import org.apache.commons.compress.archivers.tar.TarArchiveInputStream;
import org.jspecify.annotations.Nullable;

/**
 * A base backup, as a directory or as a set of tar files.
 *
 * @param system the identifier of the system it was made of; absent where no file of it says
 * @param wrong what of it contradicts its manifest; empty where nothing does
 * @param ended when its last file was written
 * @param form how its tar files were written
 */
record BaseBackup(
        Path root,
        BackupLabel label,
        Optional<Manifest> manifest,
        OptionalLong system,
        List<Member> members,
        List<String> logs,
        String wrong,
        Evidence evidence,
        Instant ended,
        Form form) {

    private static final String LABEL = "backup_label";
    private static final String MANIFEST = "backup_manifest";
    private static final String CONTROL = "global/pg_control";
    private static final String BASE = "base.tar";
    private static final String LOG = "pg_wal.tar";
    private static final String LOGS = "pg_wal/";
    private static final String TABLESPACES = "pg_tblspc/";
    private static final int SMALL = 1 << 20;

    BaseBackup {
        members = List.copyOf(members);
        logs = List.copyOf(logs);
    }

    static boolean isOne(Path directory) {
        return Files.isRegularFile(directory.resolve(LABEL)) || tar(directory).isPresent();
    }

    private static Optional<Path> tar(Path directory) {
        return Packed.find(directory, BASE);
    }

    /** Where it is consistent, where its manifest says so. */
    OptionalLong end() {
        return manifest.flatMap(m -> m.ranges().stream()
                        .filter(r -> r.timeline() == timeline())
                        .findFirst())
                .map(r -> OptionalLong.of(r.end()))
                .orElseGet(label::end);
    }

    int timeline() {
        return manifest.flatMap(
                        m -> m.ranges().stream().map(Manifest.Range::timeline).reduce(Math::max))
                .orElse(label.timeline());
    }

    /** Whether it brings the log it needs along. */
    boolean holdsItsLog(int segmentSize) {
        OptionalLong end = end();
        if (end.isEmpty() || logs.isEmpty()) {
            return false;
        }
        for (long at = label.start() / segmentSize * segmentSize; at < end.getAsLong(); at += segmentSize) {
            if (!logs.contains(SegmentName.holding(label.timeline(), at, segmentSize))) {
                return false;
            }
        }
        return true;
    }

    /**
     * The checksums of a directory's files are compared where the look is thorough; those of a tar always are, since it is read anyway,
     * and not again before it changes.
     *
     * @throws IOException where it is none that can be understood; says why in a clause
     */
    static BaseBackup read(Path directory, Looking looking) throws IOException {
        Gathered got = new Gathered(directory, looking);
        Optional<Path> tar = tar(directory);
        if (tar.isPresent()) {
            got.form = looking.form(tar.get());
            got.tars();
        } else {
            got.directory();
        }
        return got.together();
    }

    /** What is gathered file by file. */
    private static final class Gathered {

        private final Path root;
        private final Looking looking;
        private final List<Member> members = new ArrayList<>();
        private final Map<String, Long> sizes = new TreeMap<>();
        private final Map<String, String> wrong = new TreeMap<>();
        private final List<String> logs = new ArrayList<>();
        private final Map<String, Manifest.Entry> stated = new HashMap<>();
        private Optional<Manifest> manifest = Optional.empty();
        private @Nullable String label;
        private OptionalLong system = OptionalLong.empty();
        private Instant ended = Instant.EPOCH;
        private String contradiction = "";
        private boolean compared;
        private Form form = Form.PLAIN;

        Gathered(Path root, Looking looking) throws IOException {
            this.root = root;
            this.looking = looking;
            Optional<Path> file = Packed.find(root, MANIFEST);
            if (file.isPresent()) {
                try (InputStream in = Packed.open(file.get(), looking.keys())) {
                    manifest = Optional.of(Manifest.parse(in.readAllBytes()));
                }
                manifest.get().files().forEach(e -> stated.put(e.path(), e));
                system = manifest.get().systemIdentifier();
            }
        }

        void directory() throws IOException {
            compared = looking.checks() && manifest.isPresent();
            try (Stream<Path> all = Files.walk(root)) {
                for (Path file :
                        (Iterable<Path>) all.filter(f -> Files.isRegularFile(f, LinkOption.NOFOLLOW_LINKS))::iterator) {
                    String path = root.relativize(file).toString();
                    member(path, Files.size(file), file);
                    sizes.put(path, Files.size(file));
                    if (path.startsWith(LOGS)) {
                        logs.add(path.substring(LOGS.length()));
                    }
                    Manifest.Entry entry = stated.get(path);
                    if (compared && entry != null && entry.algorithm().isPresent()) {
                        try (InputStream in = Files.newInputStream(file)) {
                            compare(entry, in);
                        }
                    }
                }
            }
            label = Files.readString(root.resolve(LABEL));
            contradictions();
            Path control = root.resolve(CONTROL);
            if (Files.isRegularFile(control)) {
                try (InputStream in = Files.newInputStream(control)) {
                    control(in);
                }
            }
        }

        void tars() throws IOException {
            compared = manifest.isPresent();
            List<Path> files;
            try (Stream<Path> all = Files.list(root)) {
                files = all.filter(Files::isRegularFile).sorted().toList();
            }
            StringBuilder is = new StringBuilder("base");
            for (Path file : files) {
                BasicFileAttributes of = Files.readAttributes(file, BasicFileAttributes.class);
                member(file.getFileName().toString(), of.size(), file);
                is.append('|').append(Known.key(file, of));
            }
            Optional<Unpacked> before = looking.checks()
                    ? Optional.empty()
                    : looking.known().get(is.toString()).map(Unpacked::parse);
            if (before.isPresent()) {
                label = before.get().label();
                system = before.get().system();
                logs.addAll(before.get().logs());
                contradiction = before.get().wrong();
                return;
            }
            for (Path file : files) {
                String within = Packed.nameWithin(file.getFileName().toString());
                if (within.endsWith(".tar")) {
                    looking.reading(file, Files.size(file));
                    String under = within.equals(BASE) || within.equals(LOG)
                            ? ""
                            : TABLESPACES + within.substring(0, within.length() - ".tar".length()) + "/";
                    try (TarArchiveInputStream tar = new TarArchiveInputStream(Packed.open(file, looking.keys()))) {
                        entries(tar, within.equals(LOG) ? LOGS : under, within.equals(LOG));
                    }
                }
            }
            contradictions();
            if (label != null) {
                looking.known().put(is.toString(), new Unpacked(label, system, logs, contradiction).text());
            }
        }

        private void entries(TarArchiveInputStream tar, String under, boolean log) throws IOException {
            for (TarArchiveEntry e = tar.getNextEntry(); e != null; e = tar.getNextEntry()) {
                if (!e.isFile()) {
                    continue;
                }
                String path = under + e.getName();
                sizes.put(path, e.getSize());
                Manifest.Entry entry = stated.get(path);
                if ((path.equals(LABEL) || path.equals(CONTROL)) && e.getSize() < SMALL) {
                    byte[] content = tar.readAllBytes();
                    if (path.equals(LABEL)) {
                        label = new String(content, StandardCharsets.UTF_8);
                    } else {
                        control(new ByteArrayInputStream(content));
                    }
                    if (entry != null && entry.algorithm().isPresent()) {
                        compare(entry, new ByteArrayInputStream(content));
                    }
                } else if (log || path.startsWith(LOGS)) {
                    logs.add(path.substring(LOGS.length()));
                } else if (entry != null && entry.algorithm().isPresent()) {
                    compare(entry, tar);
                }
            }
        }

        private void member(String path, long size, Path file) throws IOException {
            members.add(new Member(path, size));
            Instant written = Files.getLastModifiedTime(file).toInstant();
            if (written.isAfter(ended)) {
                ended = written;
            }
        }

        private void compare(Manifest.Entry entry, InputStream in) throws IOException {
            if (!Checksums.of(in, entry.algorithm().orElse("CRC32C")).equalsIgnoreCase(entry.checksum())) {
                wrong.put(entry.path(), "does not have the checksum its manifest states");
            }
        }

        private void control(InputStream in) throws IOException {
            byte[] first = in.readNBytes(Long.BYTES);
            if (system.isEmpty() && first.length == Long.BYTES) {
                long identifier =
                        ByteBuffer.wrap(first).order(ByteOrder.LITTLE_ENDIAN).getLong();
                // No system has 0: a control file that was wiped says nothing.
                system = identifier == 0 ? OptionalLong.empty() : OptionalLong.of(identifier);
            }
        }

        /** What its manifest says that is not so. */
        private void contradictions() {
            for (Manifest.Entry e : stated.values()) {
                Long size = sizes.get(e.path());
                if (size == null) {
                    wrong.put(e.path(), "is not there, though its manifest names it");
                } else if (size != e.size()) {
                    wrong.put(e.path(), "has " + size + " bytes, and its manifest says " + e.size());
                }
            }
            contradiction = wrong.entrySet().stream()
                    .findFirst()
                    .map(w -> w.getKey() + " " + w.getValue()
                            + (wrong.size() > 1 ? ", as it is with " + (wrong.size() - 1) + " more" : ""))
                    .orElse("");
        }

        BaseBackup together() throws IOException {
            if (label == null) {
                throw new IOException("has no " + LABEL + " in its " + BASE);
            }
            return new BaseBackup(
                    root,
                    BackupLabel.parse(label),
                    manifest,
                    system,
                    members,
                    logs,
                    contradiction,
                    compared ? Evidence.CHECKED : Evidence.READ,
                    ended,
                    form);
        }
    }
}
