package firth.agent;

import firth.core.stocktake.MemberSum;
import firth.engines.Known;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileStore;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** A store that is a directory, or something mounted at one. */
public final class Directory implements Storage {

    private static final String GOING = Tree.OWN + "going-";
    private static final String TRIES = Tree.OWN + "tried-";
    private static final byte[] TRIED =
            "Firth's agent tries whether it can write here.\n".getBytes(StandardCharsets.UTF_8);

    private final Tree tree;
    private final Locks locks;
    private final Sums sums;
    private final Limits limits;
    private final Rate deletions;
    private final Clock clock;

    /**
     * How hard it may work, and whether it may change anything.
     *
     * @param bytesPerSecond read for checksums; 0: as fast as it goes
     * @param deletionsPerSecond 0: as fast as it goes
     * @param writes whether it tries to write, and lays recovery sheets
     */
    public record Limits(double bytesPerSecond, double deletionsPerSecond, boolean writes) {
        public static final Limits NONE = new Limits(0, 0, true);
    }

    /**
     * @param kept where checksums are kept; outside of the root
     * @throws IOException where the root is no directory
     */
    public Directory(Path root, Path kept, Locks locks, Limits limits, Clock clock) throws IOException {
        this.tree = new Tree(root);
        this.locks = locks;
        this.sums = new Sums(kept, new Rate(limits.bytesPerSecond()));
        this.limits = limits;
        this.deletions = new Rate(limits.deletionsPerSecond());
        this.clock = clock;
    }

    /** With the locks the file system knows. */
    public static Directory at(Path root, Path kept, Limits limits) throws IOException {
        return new Directory(root, kept, new AttributeLocks(), limits, Clock.systemUTC());
    }

    @Override
    public void list(boolean withSums, Consumer<Entry> to) throws IOException, InterruptedException {
        Known known = sums.known();
        try (Tree.Held root = tree.open()) {
            list(root, "", withSums ? known : null, to);
        }
        if (withSums) {
            sums.keep(known);
        }
    }

    private void list(Tree.Held in, String from, @Nullable Known known, Consumer<Entry> to)
            throws IOException, InterruptedException {
        Function<String, Lock> locked = locks.in(from, tree.root().resolve(from));
        for (String name : in.names()) {
            if (!name.startsWith(TRIES) && !(from.isEmpty() && name.equals(Tree.SHEETS))) {
                String path = from.isEmpty() ? name : from + "/" + name;
                try {
                    one(in, name, path, known, locked.apply(name), to);
                } catch (NoSuchFileException e) {
                    // It went while the directory was looked through: it is not there.
                } catch (AccessDeniedException e) {
                    throw new IOException("the agent may not look into /" + path, e);
                }
            }
        }
    }

    private void one(Tree.Held in, String name, String path, @Nullable Known known, Lock lock, Consumer<Entry> to)
            throws IOException, InterruptedException {
        BasicFileAttributes at = in.at(name);
        if (at.isDirectory()) {
            try (Tree.Held inner = in.enter(name)) {
                list(inner, path, known, to);
            } catch (Unsafe mounted) {
                to.accept(unseen(path, at, lock));
            }
        } else if (at.isRegularFile()) {
            to.accept(new Entry(
                    "/" + path,
                    OptionalLong.of(at.size()),
                    at.lastModifiedTime().toInstant(),
                    known == null ? Optional.empty() : Optional.of(sums.of(in, name, at, known)),
                    lock));
        } else {
            to.accept(unseen(path, at, lock));
        }
    }

    /** A link, another file system: there, and not looked into. */
    private static Entry unseen(String path, BasicFileAttributes at, Lock lock) {
        return new Entry("/" + path, OptionalLong.empty(), at.lastModifiedTime().toInstant(), Optional.empty(), lock);
    }

    @Override
    public Outcome delete(Doomed what, Intents intents) throws IOException, InterruptedException {
        deletions.spend(1);
        List<String> names;
        try {
            names = Tree.names(what.path());
            tree.checkMounts(names);
        } catch (Unsafe e) {
            return Outcome.failed(String.valueOf(e.getMessage()));
        }
        List<String> above = names.subList(0, names.size() - 1);
        try (Tree.Held in = tree.open(above)) {
            return delete(in, String.join("/", above), names.get(names.size() - 1), what, intents);
        } catch (NoSuchFileException e) {
            return gone(what, intents);
        } catch (FileSystemException e) {
            return refused(e);
        } catch (Unsafe e) {
            return Outcome.failed(String.valueOf(e.getMessage()));
        }
    }

    /** What this agent itself was deleting when it died is not missing. */
    private static Outcome gone(Doomed what, Intents intents) {
        return intents.of(what.deed())
                .filter(i -> i.path().equals(what.path()))
                .map(i -> switch (i.stage()) {
                    case GONE -> new Outcome(Outcome.Word.DELETED, i.bytes(), "");
                    case GOING -> partly(i.aside(), "it could not be deleted after a restart");
                    case ASIDE -> Outcome.failed("it was taken aside as " + i.aside() + " and could not be put back");
                    case STAYS -> Outcome.of(Outcome.Word.MISSING, "");
                })
                .orElse(Outcome.of(Outcome.Word.MISSING, ""));
    }

    private static Outcome refused(FileSystemException e) {
        String why = String.valueOf(e.getReason());
        if (e instanceof AccessDeniedException) {
            return Outcome.failed("the agent has no right to delete it");
        }
        boolean kept = why.toLowerCase(Locale.ROOT).matches("operation not permitted|read-only file system");
        return Outcome.of(kept ? Outcome.Word.LOCKED : Outcome.Word.FAILED, why);
    }

    private Outcome delete(Tree.Held in, String from, String name, Doomed what, Intents intents)
            throws IOException, InterruptedException {
        BasicFileAttributes at = in.at(name);
        Optional<Lock> kept = kept(in, from, name);
        if (kept.isPresent()) {
            return Outcome.of(Outcome.Word.LOCKED, kept.get().told());
        }
        Members.Weighed weighed = Members.weigh(in, name);
        Optional<String> flaw = flaw(in, name, at, weighed, what);
        if (flaw.isPresent()) {
            return Outcome.failed(flaw.get());
        }
        String aside = GOING + UUID.randomUUID();
        intents.aside(what, aside, weighed.bytes());
        // Under a name nobody else knows it can no longer be exchanged for another.
        move(in, name, aside, what, intents);
        if (!isStill(in, aside, weighed)) {
            putBack(in, name, aside, what.deed(), intents);
            return Outcome.failed("it changed while it was looked at");
        }
        intents.reached(what.deed(), Intents.Stage.GOING);
        try {
            Members.delete(in, aside);
        } catch (IOException e) {
            return partly(aside, String.valueOf(e.getMessage()));
        }
        intents.reached(what.deed(), Intents.Stage.GONE);
        return new Outcome(Outcome.Word.DELETED, weighed.bytes(), "");
    }

    /** Nothing can be restored from it any more; a listing tells of what is left. */
    private static Outcome partly(String aside, String why) {
        return Outcome.of(Outcome.Word.DELETED, "part of it is left as " + aside + ": " + why);
    }

    private static boolean isStill(Tree.Held in, String name, Members.Weighed before) throws IOException {
        try {
            return Members.weigh(in, name).equals(before);
        } catch (Unsafe another) {
            return false;
        }
    }

    /** What keeps a file, or any member of a directory, from being deleted now. */
    private Optional<Lock> kept(Tree.Held in, String from, String name) throws IOException, InterruptedException {
        Lock own = locks.of(from, tree.root().resolve(from), name);
        if (own.holdsAt(clock.instant()) || !in.at(name).isDirectory()) {
            return Optional.of(own).filter(l -> l.holdsAt(clock.instant()));
        }
        String inside = from.isEmpty() ? name : from + "/" + name;
        try (Tree.Held inner = in.enter(name)) {
            for (String member : inner.names()) {
                Optional<Lock> held = kept(inner, inside, member);
                if (held.isPresent()) {
                    return held;
                }
            }
        }
        return Optional.empty();
    }

    private static void move(Tree.Held in, String name, String aside, Doomed what, Intents intents) throws IOException {
        try {
            in.stream().move(Path.of(name), in.stream(), Path.of(aside));
        } catch (IOException e) {
            intents.reached(what.deed(), Intents.Stage.STAYS);
            throw e;
        }
    }

    /** Where another has taken its name meanwhile it stays under the name it has, for a person to look at. */
    private static void putBack(Tree.Held in, String name, String aside, String deed, Intents intents)
            throws IOException {
        try {
            in.at(name);
        } catch (NoSuchFileException free) {
            in.stream().move(Path.of(aside), in.stream(), Path.of(name));
        }
        intents.reached(deed, Intents.Stage.STAYS);
    }

    private Optional<String> flaw(
            Tree.Held in, String name, BasicFileAttributes at, Members.Weighed weighed, Doomed what)
            throws IOException, InterruptedException {
        if (at.isDirectory() && what.bytes() <= 0) {
            return Optional.of("it is a directory, and nobody said how large it is");
        }
        if (what.bytes() > 0 && weighed.bytes() != what.bytes()) {
            return Optional.of("it is not as large as it was written");
        }
        if (at.isDirectory() && MemberSum.is(what.checksum())) {
            return MemberSum.of(weighed.sizes()).equalsIgnoreCase(what.checksum())
                    ? Optional.empty()
                    : Optional.of("its files are not those that were written");
        }
        boolean summed = at.isRegularFile() && what.checksum().startsWith(Sums.PREFIX);
        return summed && !sums.of(in, name, at).equals(what.checksum())
                ? Optional.of("its checksum is another")
                : Optional.empty();
    }

    /** What cannot be put right now is tried again the next time, and keeps nothing else from being done. */
    @Override
    public void recover(Intents intents) throws IOException {
        for (Intents.Intent i : intents.open()) {
            List<String> names = Tree.names(i.path());
            try (Tree.Held in = tree.open(names.subList(0, names.size() - 1))) {
                in.at(i.aside());
                if (i.stage() == Intents.Stage.GOING) {
                    Members.delete(in, i.aside());
                    intents.reached(i.deed(), Intents.Stage.GONE);
                } else {
                    putBack(in, names.get(names.size() - 1), i.aside(), i.deed(), intents);
                }
            } catch (NoSuchFileException notAside) {
                // Found to be right and no longer there: it was deleted. Else it never left its place.
                intents.reached(i.deed(), i.stage() == Intents.Stage.GOING ? Intents.Stage.GONE : Intents.Stage.STAYS);
            } catch (FileSystemException | Unsafe later) {
                // It stays open among the intents.
            }
        }
    }

    @Override
    public Room room() throws IOException {
        FileStore on = Files.getFileStore(tree.root());
        String trouble = limits.writes() ? tryWriting() : "";
        Lock.Manner manner = Lock.Manner.UNKNOWN;
        try {
            manner = locks.in("", tree.root()).apply(".").manner();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        return new Room(
                on.getUsableSpace(),
                on.getTotalSpace(),
                limits.writes() ? Optional.of(trouble.isEmpty()) : Optional.empty(),
                manner,
                trouble);
    }

    /** Writes a small file, reads it again and deletes it; why that did not go. */
    private String tryWriting() {
        Path tried = Path.of(TRIES + UUID.randomUUID());
        try (Tree.Held in = tree.open()) {
            write(in, tried, TRIED);
            long size = in.at(tried.toString()).size();
            in.stream().deleteFile(tried);
            return size == TRIED.length ? "" : "what was written came out shorter";
        } catch (FileSystemException e) {
            return e instanceof AccessDeniedException ? "permission denied" : String.valueOf(e.getReason());
        } catch (IOException e) {
            return String.valueOf(e.getMessage());
        }
    }

    @Override
    public void lay(String name, String content) throws IOException {
        if (!limits.writes()) {
            return;
        }
        try (Tree.Held root = tree.open()) {
            Files.createDirectories(tree.root().resolve(Tree.SHEETS));
            try (Tree.Held beside = root.enter(Tree.SHEETS)) {
                Path unfinished = Path.of(Tree.OWN + UUID.randomUUID());
                write(beside, unfinished, content.getBytes(StandardCharsets.UTF_8));
                beside.stream().move(unfinished, beside.stream(), Path.of(name));
            }
        }
    }

    private static void write(Tree.Held in, Path name, byte[] content) throws IOException {
        try (SeekableByteChannel out = in.stream()
                .newByteChannel(
                        name,
                        Set.of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE, StandardOpenOption.SYNC))) {
            ByteBuffer left = ByteBuffer.wrap(content);
            while (left.hasRemaining()) {
                out.write(left);
            }
        }
    }
}
