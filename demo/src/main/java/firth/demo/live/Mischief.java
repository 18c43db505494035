package firth.demo.live;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** What can go wrong at the pier and in its stores, as it goes wrong elsewhere. */
final class Mischief {

    private final Pier pier;
    private final Hands hands;

    Mischief(Pier pier, Hands hands) {
        this.pier = pier;
        this.hands = hands;
    }

    /** The server archives its log by the runner's own script. */
    void archive() {
        pier.archiveBy(hands.script() + " \"%p\" \"" + hands.store("near").resolve(Pier.HARBOUR + "/log") + "/%f\"");
    }

    List<Fault> faults() {
        return List.of(
                new Fault(
                        "archiver",
                        "Stop the archiver of harbour",
                        "Its logs fail with the segment that does not come, its age grows on Cover, and once it is over three minutes Watch says so.",
                        () -> pier.archiveBy("false"),
                        Optional.of(this::archive)),
                new Fault(
                        "segment",
                        "Delete the newest log of harbour",
                        "It goes from both stores. A gap opens on Gaps; every log after it is useless until the next full.",
                        this::deleteSegment,
                        Optional.empty()),
                new Fault(
                        "full-store",
                        "Let Quay near take nothing more",
                        "It refuses every write, as one does whose quota is used up. Runs fail with its words, and readiness names it.",
                        () -> writable("near", false),
                        Optional.of(() -> writable("near", true))),
                new Fault(
                        "server",
                        "Kill the server of berths",
                        "As a power cut does. Its runs fail with what the client says, and nothing more is committed to it.",
                        pier::killBerths,
                        Optional.of(pier::startBerths)),
                new Fault(
                        "runner",
                        "Kill the runner of pier",
                        "Firth finds it silent. Started again, it says what became of the run it was in, and goes on.",
                        hands::killRunner,
                        Optional.of(hands::startRunner)),
                new Fault(
                        "control-file",
                        "Wipe the control file in every full of harbour",
                        "Nobody sees it from outside. The next drill fails with the server's own words, and its copies are suspect.",
                        this::wipeControlFiles,
                        Optional.empty()));
    }

    private List<Path> inStores(String database, Predicate<Path> which) throws IOException {
        List<Path> out = new ArrayList<>();
        for (String store : List.of("near", "far")) {
            Path home = hands.store(store).resolve(database);
            if (Files.isDirectory(home)) {
                try (Stream<Path> all = Files.walk(home)) {
                    all.filter(which).forEach(out::add);
                }
            }
        }
        return out;
    }

    private void deleteSegment() throws IOException {
        // The last but one: what follows it shows that it is missing.
        List<String> names = inStores(
                        Pier.HARBOUR, p -> p.getFileName().toString().matches("[0-9A-F]{24}"))
                .stream()
                .map(p -> p.getFileName().toString())
                .distinct()
                .sorted(Comparator.reverseOrder())
                .toList();
        if (names.size() < 2) {
            throw new IOException("no two logs of harbour lie in a store yet");
        }
        for (Path p : inStores(Pier.HARBOUR, p -> p.endsWith(names.get(1)) && Files.isRegularFile(p))) {
            Files.delete(p);
        }
    }

    private void wipeControlFiles() throws IOException {
        List<Path> files = inStores(Pier.HARBOUR, p -> p.endsWith("pg_control"));
        if (files.isEmpty()) {
            throw new IOException("no full of harbour lies in a store yet");
        }
        for (Path p : files) {
            FileTime dated = Files.getLastModifiedTime(p);
            Files.write(p, new byte[(int) Files.size(p)]);
            Files.setLastModifiedTime(p, dated);
        }
    }

    private void writable(String store, boolean is) throws IOException {
        List<Path> directories;
        try (Stream<Path> all = Files.walk(hands.store(store))) {
            directories = all.filter(Files::isDirectory).toList();
        }
        for (Path p : directories) {
            Files.setPosixFilePermissions(p, PosixFilePermissions.fromString(is ? "rwxr-xr-x" : "r-xr-xr-x"));
        }
    }
}
