package firth.server.stocktake;

import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Evidence;
import firth.core.model.Spoilage;
import firth.core.record.Deed;
import firth.core.stocktake.Difference;
import firth.core.stocktake.Difference.Manner;
import firth.core.stocktake.KnownCopy;
import firth.core.stocktake.Listed;
import firth.core.stocktake.Stocktake;
import firth.exchange.Json;
import firth.exchange.Told;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Who;
import firth.store.FactStore;
import firth.store.ItemState;
import firth.store.Snapshot;
import firth.store.Stocktakes;
import firth.store.Stocktakes.Find;
import firth.store.Stocktakes.Take;
import firth.wording.StoreWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Takes stock: compares a listing with the catalog and keeps what follows, all or nothing. */
@ApplicationScoped
public class Stocktaking {

    /** A listing that lacks more than this share of the copies is taken for a part of one until somebody says it is whole. */
    private static final double PART = 0.5;

    private static final int FEW = 10;

    /** So many copies are written at once. */
    private static final int AT_ONCE = 20_000;

    private static final Told.Known TOLD = new Told.Known(Evidence.TOLD, Optional.empty(), Optional.empty());

    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;

    Stocktaking(FactsHolder facts, Lookout lookout, Who who) {
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
    }

    private Stocktakes stocktakes() {
        return facts.store().stocktakes();
    }

    static String newId() {
        return "stock-" + UUID.randomUUID().toString().substring(0, 8);
    }

    /**
     * Asks the agent of a store for a listing; one that is asked for already is waited for on.
     *
     * @param sums whether it is to read every file through
     */
    Take ask(String store, boolean sums) {
        Optional<Take> awaited = stocktakes().awaited(store);
        if (awaited.isPresent()) {
            return awaited.get();
        }
        Take take = new Take(newId(), store, who.id(), lookout.now(), Optional.empty(), "asked", "", 0, 0, 0, sums);
        stocktakes().put(take, told("stocktake-asked", take.id(), Map.of("store", store, "sums", sums)), lookout.now());
        return take;
    }

    /**
     * Takes a listing.
     *
     * @param begun when the listing was
     * @param whole whether somebody says that it is all there is, however much it lacks
     */
    Take take(Take asked, List<Listed> listing, Instant begun, boolean whole) {
        Instant taken = following(asked.store(), begun);
        List<Snapshot.Lying> lying = new ArrayList<>();
        Map<String, Snapshot.Lying> byBackup;
        try (Snapshot snapshot = facts.store().read()) {
            snapshot.copiesIn(asked.store(), lying::add);
            byBackup = lying.stream().collect(Collectors.toMap(Snapshot.Lying::backup, l -> l, (a, b) -> a));
        }
        Set<String> lost = stocktakes().everLost(asked.store());
        Stocktake compared = Stocktake.compare(
                lying.stream().map(l -> held(l, taken, lost)).toList(), listing, taken, new EngineNames());
        long missing = compared.count(Manner.MISSING);
        if (!whole && missing > FEW && missing > PART * (missing + compared.agreed())) {
            String why = "The listing lacks " + missing + " of " + (missing + compared.agreed())
                    + " copies: it is taken for a part of one";
            Take refused = with(asked, Optional.of(taken), "refused", why, compared, listing.size());
            stocktakes()
                    .put(
                            refused,
                            told("stocktake-refused", asked.id(), Map.of("store", asked.store(), "why", why)),
                            lookout.now());
            throw new BadRequest(
                    "whole",
                    "is to be said: " + why.substring(0, 1).toLowerCase(java.util.Locale.ROOT) + why.substring(1));
        }
        Optional<Take> before = stocktakes().ofStore(asked.store()).stream()
                .filter(t ->
                        t.state().equals("taken") && t.taken().orElseThrow().isBefore(taken))
                .findFirst();
        Set<String> doubtful = before.stream()
                .flatMap(t -> stocktakes().finds(t.id()).stream())
                .flatMap(f -> f.backup().stream())
                .collect(Collectors.toSet());
        List<Find> finds = new ArrayList<>();
        for (Difference d : compared.differences()) {
            finds.add(find(finds.size() + 1, d, asked.store(), before, doubtful, byBackup));
        }
        Take done = with(asked, Optional.of(taken), "taken", who.name(), compared, listing.size());
        raise(asked.store(), compared.seen(), byBackup, taken);
        keep(done, finds, taken);
        return done;
    }

    /** The clock shows seconds: of two listings begun in one the later one counts as the newest. */
    private Instant following(String store, Instant begun) {
        return stocktakes().ofStore(store).stream()
                .flatMap(t -> t.taken().stream())
                .filter(t -> !t.isBefore(begun) && t.isBefore(begun.plusSeconds(1)))
                .max(Instant::compareTo)
                .map(t -> t.plusMillis(1))
                .orElse(begun);
    }

    private static Take with(
            Take asked, Optional<Instant> taken, String state, String told, Stocktake compared, int files) {
        return new Take(
                asked.id(),
                asked.store(),
                asked.askedBy(),
                asked.askedAt(),
                taken,
                state,
                told,
                compared.agreed(),
                files,
                compared.unplaced(),
                asked.sums());
    }

    private static KnownCopy held(Snapshot.Lying l, Instant taken, Set<String> lost) {
        boolean gone = l.landed().isAfter(taken) || l.gone().isPresent();
        boolean spoiled = l.spoiledFound().isPresent();
        return new KnownCopy(
                l.backup(),
                l.database(),
                Told.path(l.told()).orElse(""),
                l.landed(),
                l.bytes(),
                Told.checksum(l.told()),
                l.lockedUntil(),
                gone || spoiled && lost.contains(l.backup())
                        ? KnownCopy.Presence.NOT_THERE
                        : spoiled ? KnownCopy.Presence.SPOILED : KnownCopy.Presence.THERE);
    }

    private Find find(
            int num,
            Difference d,
            String store,
            Optional<Take> before,
            Set<String> doubtful,
            Map<String, Snapshot.Lying> lying) {
        Optional<KnownCopy> held = d.held();
        boolean asked = d.what() == Manner.MISSING
                && facts.store()
                        .purges()
                        .ofCopy(held.orElseThrow().backup(), store)
                        .filter(i -> i.state() != ItemState.FAILED && i.state() != ItemState.LOCKED)
                        .isPresent();
        Optional<Instant> seen = before.flatMap(Take::taken)
                .filter(t -> d.spoils())
                .filter(t -> held.filter(h -> h.landed().isBefore(t) && !doubtful.contains(h.backup()))
                        .isPresent());
        // A file of another size was written after it landed, at the earliest when the store says it was.
        Optional<Instant> since = d.what() == Manner.MISMATCH
                ? d.listed()
                        .flatMap(Listed::time)
                        .filter(t -> held.filter(h -> t.isAfter(h.landed())).isPresent())
                        .or(() -> seen)
                : seen;
        return new Find(
                num,
                d.what().word(),
                held.map(KnownCopy::database),
                held.map(KnownCopy::backup),
                d.listed().map(Listed::path).orElse(held.map(KnownCopy::path).orElse("")),
                StoreWords.of(d.clue()),
                d.listed().map(Listed::size).orElse(OptionalLong.empty()),
                held.map(KnownCopy::bytes).orElse(OptionalDouble.empty()),
                d.listed().flatMap(Listed::time),
                d.spoils() ? since : held.flatMap(h -> found(lying, h).spoiledSince()),
                held.map(KnownCopy::landed),
                held.flatMap(h -> found(lying, h).gone()),
                held.flatMap(h -> found(lying, h).spoiledFound()),
                asked,
                "open",
                Optional.empty(),
                Optional.empty());
    }

    private record Delivered(
            Optional<Instant> newestFact,
            Optional<Stocktakes.Kept> stocktake,
            Optional<Stocktakes.Decision> decision,
            Optional<Deed.Told> deed)
            implements FactStore.Delivery {
        @Override
        public String source() {
            return "stocktakes";
        }
    }

    private static Snapshot.Lying found(Map<String, Snapshot.Lying> lying, KnownCopy copy) {
        return Objects.requireNonNull(lying.get(copy.backup()));
    }

    /** What a listing shows of copies is how they are known from then on, where less was; some of many at a time, so that others can write. */
    private void raise(String store, Map<String, Evidence> seen, Map<String, Snapshot.Lying> lying, Instant taken) {
        List<FactStore.Said> better = new ArrayList<>();
        for (Map.Entry<String, Evidence> e : new TreeMap<>(seen).entrySet()) {
            Snapshot.Lying copy = Objects.requireNonNull(lying.get(e.getKey()));
            if (Told.evidence(copy.told()).is().compareTo(e.getValue()) < 0) {
                String rest = Told.known(
                        copy.told(), new Told.Known(e.getValue(), Optional.of(who.id()), Optional.of(taken)));
                better.add(new FactStore.Said(copy.backup(), copy.database(), store, rest));
            }
        }
        for (int from = 0; from < better.size(); from += AT_ONCE) {
            try {
                facts.store()
                        .say(
                                better.subList(from, Math.min(better.size(), from + AT_ONCE)),
                                new Delivered(Optional.of(taken), Optional.empty(), Optional.empty(), Optional.empty()),
                                lookout.now());
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }

    private void write(List<Backup> changed, Function<List<Backup>, Delivered> delivered) {
        try {
            facts.store()
                    .write(
                            catalog -> {
                                changed.forEach(catalog::put);
                                return changed;
                            },
                            delivered::apply,
                            lookout.now());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Keeps the finds; copies that are missing or not what was written are spoiled from now on. */
    private void keep(Take take, List<Find> finds, Instant taken) {
        List<Backup> spoiled = new ArrayList<>();
        try (Snapshot snapshot = facts.store().read()) {
            for (Find f : finds) {
                if (f.what().equals("missing") || f.what().equals("mismatch")) {
                    copy(snapshot, f, take.store(), c -> Told.known(c.spoilt(new Spoilage(taken, f.since())), TOLD))
                            .ifPresent(spoiled::add);
                }
            }
        }
        Map<String, Long> tally =
                finds.stream().collect(Collectors.groupingBy(Find::what, TreeMap::new, Collectors.counting()));
        write(
                spoiled,
                written -> new Delivered(
                        spoiled.isEmpty() ? Optional.empty() : Optional.of(taken),
                        Optional.of(new Stocktakes.Kept(take, finds)),
                        Optional.empty(),
                        Optional.of(told(
                                "stocktake",
                                take.id(),
                                Map.of("store", take.store(), "agreed", take.agreed(), "found", tally)))));
    }

    /** Changes a copy. */
    interface Change {
        Copy of(Copy copy);
    }

    /** The backup of a find with its copy in the store alone, changed. */
    private static Optional<Backup> copy(Snapshot snapshot, Find find, String store, Change change) {
        return find.backup().flatMap(id -> copy(snapshot, id, store, change));
    }

    private static Optional<Backup> copy(Snapshot snapshot, String backup, String store, Change change) {
        return snapshot.backup(backup)
                .flatMap(b -> b.copies().stream()
                        .filter(c -> c.store().equals(store))
                        .findFirst()
                        .map(c -> b.withCopies(List.of(change.of(c)))));
    }

    /** What may be decided about a find now. */
    static List<String> may(Find f) {
        if (!f.state().equals("open")) {
            return List.of("undo");
        }
        return switch (f.what()) {
            case "missing", "mismatch" -> List.of("drop");
            case "stray" -> f.backup().isPresent() ? List.of("adopt", "remove") : List.of("remove");
            default -> List.of();
        };
    }

    /** Decides about a find, or undoes that; only of the newest stocktake of its store. */
    void decide(Take take, int num, String what) {
        Find find = stocktakes().finds(take.id()).stream()
                .filter(f -> f.num() == num)
                .findFirst()
                .orElseThrow(
                        () -> new firth.server.platform.NotFound("The stocktake found nothing of number " + num + "."));
        boolean newest = stocktakes().newest().stream().anyMatch(t -> t.id().equals(take.id()));
        if (!newest) {
            throw new BadRequest("stocktake", "is not the newest of its store: look at what that found");
        }
        if (!may(find).contains(what)) {
            throw new BadRequest("what", "is none of " + String.join(", ", may(find)));
        }
        Instant now = lookout.now();
        Find decided = find.decided(
                switch (what) {
                    case "drop" -> "dropped";
                    case "adopt" -> "adopted";
                    case "remove" -> "to-remove";
                    default -> "open";
                },
                who.id(),
                now);
        Deed.Told told = told(
                "stocktake-" + what,
                take.id(),
                Map.of(
                        "path",
                        find.path(),
                        "backup",
                        find.backup().orElse(""),
                        "what",
                        find.what(),
                        "was",
                        find.state()));
        Optional<Backup> changed;
        try (Snapshot snapshot = facts.store().read()) {
            changed = copy(snapshot, find, take.store(), c -> changed(c, find, what, take, now));
        }
        Stocktakes.Decision decision = new Stocktakes.Decision(take.id(), decided);
        if (changed.isEmpty() || what.equals("remove") || find.state().equals("to-remove")) {
            stocktakes().decide(decision, told, now);
            return;
        }
        try {
            facts.store()
                    .correct(
                            List.of(changed.get()),
                            new Delivered(Optional.of(now), Optional.empty(), Optional.of(decision), Optional.of(told)),
                            now);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Copy changed(Copy c, Find find, String what, Take take, Instant now) {
        boolean adopting = what.equals("adopt");
        Optional<Instant> found = find.what().equals("stray") ? find.found() : take.taken();
        return new Copy(
                c.store(),
                adopting ? take.taken().orElse(now) : find.landed().orElse(c.landed()),
                adopting || c.statedLanding(),
                c.lockedUntil(),
                what.equals("drop") ? Optional.of(now) : adopting ? Optional.empty() : find.gone(),
                adopting ? Optional.empty() : found.map(f -> new Spoilage(f, find.since())),
                adopting && find.size().isPresent()
                        ? OptionalDouble.of((double) find.size().getAsLong())
                        : c.bytes(),
                c.evidence(),
                c.rest());
    }

    private Deed.Told told(String act, String about, Map<String, ?> detail) {
        return new Deed.Told(
                who.id(),
                act,
                about,
                Json.MAPPER.valueToTree(new TreeMap<>(detail)).toString());
    }
}
