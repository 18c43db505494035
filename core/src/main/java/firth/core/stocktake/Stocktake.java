package firth.core.stocktake;

import firth.core.model.Evidence;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * Compares what a store lists with what the catalog takes to be there (docs/stocktake.md). A pure function of both.
 *
 * @param agreed how many copies are there as they should be
 * @param unplaced how many copies the catalog has of which nobody said where they lie, or that lie where the store does not look; they
 *     cannot be compared
 * @param seen of those that agree what the listing shows, beyond that something is there: the backups by id
 * @param differences in the order of the catalog, then strays in the order of their paths
 */
public record Stocktake(int agreed, int unplaced, Map<String, Evidence> seen, List<Difference> differences) {

    /** What landed so shortly before the listing began may not be in it. */
    public static final Duration SLACK = Duration.ofMinutes(2);

    /**
     * Compares. A copy lies in a file, or in a directory with all that is below it.
     *
     * @param taken when the listing was begun; what landed later, or within {@link #SLACK} before, is left out
     * @param naming what engines keep beside their backups
     */
    public static Stocktake compare(List<KnownCopy> catalog, List<Listed> listing, Instant taken, Naming naming) {
        return new Work(catalog, listing, taken, naming).compare();
    }

    /** What names say of files that engines keep beside their backups. */
    public interface Naming {

        /** Whether a file of a name is one that goes with all backups of a store: it is no stray. */
        boolean isCompanion(String name);

        /** The path of the copy a file belongs to, by its own: it is no stray while that is there. */
        default Optional<String> root(String path) {
            return Optional.empty();
        }
    }

    /** How many differences are of a kind. */
    public long count(Difference.Manner what) {
        return differences.stream().filter(d -> d.what() == what).count();
    }

    /** A path as catalog and store have it in common: without a slash before it. */
    static String plain(String path) {
        return path.replaceFirst("^/+", "");
    }

    private static final class Work {
        private final List<KnownCopy> catalog;
        private final Instant taken;
        private final Naming naming;
        private final NavigableMap<String, Listed> files = new TreeMap<>();
        private final boolean tellsLocks;
        private final List<Difference> out = new ArrayList<>();
        private final Map<String, KnownCopy> claims = new HashMap<>();
        private final Map<String, Evidence> seen = new HashMap<>();
        private final Map<String, KnownCopy> once = new HashMap<>();
        private final Map<String, KnownCopy> byName = new HashMap<>();
        /** Paths that are neither missing nor strays: of what landed just now, and of what is known to be spoiled. */
        private final Set<String> apart = new HashSet<>();

        private int agreed;
        private int unplaced;

        Work(List<KnownCopy> catalog, List<Listed> listing, Instant taken, Naming naming) {
            this.catalog = catalog;
            this.taken = taken;
            this.naming = naming;
            listing.forEach(l -> files.put(plain(l.path()), l));
            this.tellsLocks = listing.stream().anyMatch(l -> l.lock() != Listed.Lock.UNKNOWN);
        }

        Stocktake compare() {
            for (KnownCopy copy : catalog) {
                String path = plain(copy.path());
                if (copy.state() == KnownCopy.Presence.SPOILED) {
                    apart.add(path);
                } else if (copy.state() == KnownCopy.Presence.NOT_THERE) {
                    once.put(path, copy);
                    byName.put(copy.backup(), copy);
                } else if (copy.landed().isAfter(taken.minus(SLACK))) {
                    apart.add(path);
                } else if (path.isEmpty()) {
                    unplaced++;
                    byName.put(copy.backup(), copy);
                } else {
                    placed(copy, path);
                }
            }
            files.keySet().stream()
                    .filter(path -> !belongs(path)
                            && !naming.root(path).filter(this::belongs).isPresent())
                    .filter(path -> !naming.isCompanion(path.substring(path.lastIndexOf('/') + 1)))
                    .forEach(this::stray);
            return new Stocktake(agreed, unplaced, Map.copyOf(seen), List.copyOf(out));
        }

        private boolean belongs(String path) {
            return isOf(claims.keySet(), path) || isOf(apart, path);
        }

        /** Whether a path is one of some, or lies below one. */
        private static boolean isOf(Set<String> some, String path) {
            for (int at = path.length(); at > 0; at = path.lastIndexOf('/', at - 1)) {
                if (some.contains(path.substring(0, at))) {
                    return true;
                }
            }
            return false;
        }

        /** Whether the store did not look into something on the way to a path, such as a link. */
        private boolean isBehind(String path) {
            for (int at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1)) {
                Listed above = files.get(path.substring(0, at));
                if (above != null && above.size().isEmpty()) {
                    return true;
                }
            }
            return false;
        }

        /** What lies at a path: a file, or a directory as if it were one, of the size of all that is in it. */
        private @Nullable Listed at(String path) {
            Listed file = files.get(path);
            NavigableMap<String, Listed> below = files.subMap(path + "/", true, path + (char) ('/' + 1), false);
            Collection<Listed> members = below.values();
            if (file != null || members.isEmpty()) {
                return file;
            }
            boolean sized = members.stream().allMatch(m -> m.size().isPresent());
            return new Listed(
                    path,
                    sized
                            ? OptionalLong.of(members.stream()
                                    .mapToLong(m -> m.size().orElse(0))
                                    .sum())
                            : OptionalLong.empty(),
                    members.stream().flatMap(m -> m.time().stream()).max(Instant::compareTo),
                    sized ? Optional.of(sum(path, below)) : Optional.empty(),
                    members.stream()
                            .map(Listed::lock)
                            .min(Comparator.naturalOrder())
                            .orElse(Listed.Lock.UNKNOWN),
                    members.stream().flatMap(m -> m.lockedUntil().stream()).min(Instant::compareTo));
        }

        private static String sum(String path, Map<String, Listed> below) {
            Map<String, Long> sizes = new HashMap<>();
            below.forEach((member, l) ->
                    sizes.put(member.substring(path.length() + 1), l.size().orElse(0)));
            return MemberSum.of(sizes);
        }

        private void placed(KnownCopy copy, String path) {
            KnownCopy other = claims.putIfAbsent(path, copy);
            if (other != null) {
                add(Difference.Manner.CLAIMED, copy, at(path), new Clue.ClaimedToo(other.backup()));
                return;
            }
            Listed file = at(path);
            if (file == null && isBehind(path)) {
                unplaced++;
                return;
            }
            if (file == null) {
                add(Difference.Manner.MISSING, copy, null, new Clue.NotListed());
                return;
            }
            Optional<Clue> otherThanWritten = otherThanWritten(copy, file);
            if (otherThanWritten.isPresent()) {
                add(Difference.Manner.MISMATCH, copy, file, otherThanWritten.get());
                return;
            }
            agreed++;
            shows(copy, file).ifPresent(e -> seen.put(copy.backup(), e));
            boolean believed = copy.lockedUntil().filter(taken::isBefore).isPresent();
            if (tellsLocks && believed && isShorter(file, copy)) {
                add(Difference.Manner.LOCK, copy, file, new Clue.ShorterLock(file.lockedUntil()));
            }
        }

        /** A file of that size is there, or one whose bytes add up. */
        private static Optional<Evidence> shows(KnownCopy copy, Listed file) {
            boolean summed = copy.checksum()
                    .filter(c -> !MemberSum.is(c))
                    .filter(c -> c.equalsIgnoreCase(file.checksum().orElse("")))
                    .isPresent();
            boolean sized = copy.bytes().isPresent() && file.size().isPresent();
            return summed ? Optional.of(Evidence.CHECKED) : sized ? Optional.of(Evidence.LISTED) : Optional.empty();
        }

        private static boolean isShorter(Listed file, KnownCopy copy) {
            return file.lock() == Listed.Lock.UNTIL
                    ? file.lockedUntil()
                            .filter(l -> l.isBefore(copy.lockedUntil().orElse(l)))
                            .isPresent()
                    : file.lock() != Listed.Lock.OPEN;
        }

        /** Checksums made in different ways say nothing of one another. */
        private static boolean differ(String one, String other) {
            return method(one).equalsIgnoreCase(method(other)) && !one.equalsIgnoreCase(other);
        }

        private static String method(String checksum) {
            return checksum.substring(0, checksum.indexOf(':') + 1);
        }

        private static Optional<Clue> otherThanWritten(KnownCopy copy, Listed file) {
            boolean otherSum = copy.checksum().isPresent()
                    && file.checksum().isPresent()
                    && differ(copy.checksum().get(), file.checksum().get());
            if (otherSum) {
                return Optional.of(other(copy.checksum().get(), file.checksum().get()));
            }
            boolean otherSize = copy.bytes().isPresent()
                    && file.size().isPresent()
                    && Math.abs(copy.bytes().getAsDouble() - file.size().getAsLong()) >= 1;
            return otherSize ? Optional.of(new Clue.OtherSize(file.size().getAsLong())) : Optional.empty();
        }

        private static Clue other(String written, String there) {
            OptionalLong now = MemberSum.count(there);
            OptionalLong once = MemberSum.count(written);
            return now.isPresent() && once.isPresent()
                    ? new Clue.OtherMembers(now.getAsLong(), once.getAsLong())
                    : new Clue.OtherChecksum(there);
        }

        private void stray(String path) {
            KnownCopy known = once.get(path);
            if (known == null) {
                known = byName.get(path.substring(path.lastIndexOf('/') + 1));
            }
            add(
                    Difference.Manner.STRAY,
                    known,
                    files.get(path),
                    known == null ? new Clue.Unknown() : new Clue.BearsName(known.backup()));
        }

        private void add(Difference.Manner what, @Nullable KnownCopy held, @Nullable Listed listed, Clue clue) {
            out.add(new Difference(what, Optional.ofNullable(held), Optional.ofNullable(listed), clue));
        }
    }
}
