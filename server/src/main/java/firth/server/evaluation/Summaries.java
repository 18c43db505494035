package firth.server.evaluation;

import firth.core.model.Database;
import firth.core.model.Standbys;
import firth.server.evaluation.FleetStanding.One;
import firth.server.evaluation.FleetStanding.Rests;
import firth.server.platform.FactsHolder;
import firth.store.KeptSummaries;
import firth.store.Snapshot;
import io.quarkus.arc.All;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Of every database's present answer what pages need of it, kept without its history. A database is looked at anew when its facts or
 * its rules have changed, or when a moment has come at which time alone changes its answer; the others stay as they are. Whoever asks
 * gets what holds now: those that are out of date are worked out first. Where very many are, as after a store changed, whoever asks gets
 * what held before, and is told so ({@link #behind}), while they are worked out (docs/decisions/14-summaries.md).
 */
@ApplicationScoped
public class Summaries {

    /** Of so many that are out of date whoever asks waits for them. */
    static final int WAITED_FOR = 150;

    /** So many are looked at anew at a time where nobody waits for them. */
    private static final int A_FEW = 64;

    /** So many are written in one transaction. */
    private static final int AT_ONCE = 200;

    private final FactsHolder facts;
    private final Evaluations evaluations;
    private final List<SummaryPart<?>> parts;
    /** Where each part stands in a summary. */
    private final Map<Class<?>, Integer> places = new HashMap<>();

    private final int waitedFor;
    private final Map<String, Summary> known = new ConcurrentHashMap<>();

    /** Those that are not in the file as they are. */
    private final Set<String> unwritten = ConcurrentHashMap.newKeySet();

    private final String program;

    /** Whoever waited longest is next. */
    private final ReentrantLock refreshing = new ReentrantLock(true);

    /** Whether what the file keeps was read. */
    private volatile boolean read;

    @Inject
    public Summaries(FactsHolder facts, Evaluations evaluations, @All List<SummaryPart<?>> parts) {
        this(facts, evaluations, parts, WAITED_FOR, SummaryBytes.program());
    }

    /** @param program which one this is: what another wrote is not read */
    Summaries(FactsHolder facts, Evaluations evaluations, List<SummaryPart<?>> parts, int waitedFor, String program) {
        this.facts = facts;
        this.evaluations = evaluations;
        this.parts = List.copyOf(parts);
        parts.forEach(part -> places.put(part.getClass(), places.size()));
        this.waitedFor = waitedFor;
        this.program = program;
    }

    /** What is to be done where whoever asked got what held before: to have it worked out soon. */
    private volatile Runnable whenBehind = () -> {};

    void whenBehind(Runnable soon) {
        whenBehind = soon;
    }

    /** What is to be done where what Watch tells of some databases has changed. */
    private volatile Consumer<Set<String>> whenTurned = turned -> {};

    void whenTurned(Consumer<Set<String>> then) {
        whenTurned = then;
    }

    /** The parts of one database, each in its place, what they rest on, and from when to when they stand. */
    private record Summary(Rests rests, Instant from, Instant until, List<Object> parts) {

        boolean stands(Rests now, Instant moment) {
            return rests.equals(now) && !moment.isBefore(from) && moment.isBefore(until);
        }
    }

    /** Which databases are asked for. */
    private interface Wanted {
        List<One> of(FleetStanding standing);
    }

    /** A part of every database by id but standbys, which are part of their primaries. */
    public <T> Parts<T> all(Lookout.View view, SummaryPart<T> part) {
        if (!view.isUsual()) {
            return evaluations.each(d -> true, view, part);
        }
        return parts(FleetStanding::databases, view, part);
    }

    /** A part of some of them; of the others nothing is looked at. */
    public <T> Parts<T> some(Predicate<Database> wanted, Lookout.View view, SummaryPart<T> part) {
        if (!view.isUsual()) {
            return evaluations.each(wanted, view, part);
        }
        return parts(
                standing -> standing.databases().stream()
                        .filter(one -> wanted.test(one.database()))
                        .toList(),
                view,
                part);
    }

    /** A part of those of some names; standbys stand for their primaries. It costs no more in a large fleet than in a small one. */
    public <T> Parts<T> some(Set<String> names, Lookout.View view, SummaryPart<T> part) {
        if (!view.isUsual()) {
            Standbys standbys = evaluations.fleetNow().standbys();
            Set<String> primaries = names.stream().map(standbys::primaryOf).collect(Collectors.toSet());
            return evaluations.each(d -> primaries.contains(d.id()), view, part);
        }
        return parts(standing -> standing.named(names), view, part);
    }

    private KeptSummaries.Row row(String database, Summary s) {
        Map<String, Object> byName = new HashMap<>();
        parts.forEach(part -> byName.put(name(part), of(s, part)));
        return new KeptSummaries.Row(
                database, s.rests.change(), s.rests.rules(), s.from, s.until, SummaryBytes.of(byName));
    }

    private <T> Parts<T> parts(Wanted wanted, Lookout.View view, SummaryPart<T> part) {
        FleetStanding standing = current(wanted, view);
        int place = place(part);
        List<Database> databases = new ArrayList<>();
        List<T> out = new ArrayList<>();
        for (One one : wanted.of(standing)) {
            Summary summary = known.get(one.database().id());
            if (summary != null) {
                databases.add(one.database());
                @SuppressWarnings("unchecked")
                T own = (T) summary.parts.get(place);
                out.add(own);
            }
        }
        return new Parts<>(standing.fleet(), databases, out);
    }

    /** Looks anew at what is out of date, for whoever asks next; of how many there was so much that nobody waited for it. */
    int lookAnew(Lookout.View view) {
        List<String> old;
        try (Snapshot snapshot = facts.store().read()) {
            FleetStanding standing = evaluations.standing(snapshot);
            old = old(standing, standing.databases(), view).stream()
                    .map(one -> one.database().id())
                    .toList();
        }
        // A few at a time: whoever asks for one of them meanwhile waits for those, and not for the whole fleet.
        for (int from = 0; from + A_FEW < old.size(); from += A_FEW) {
            Set<String> few = Set.copyOf(old.subList(from, from + A_FEW));
            refresh(standing -> standing.named(few), view);
        }
        refresh(FleetStanding::databases, view);
        return old.size() > waitedFor ? old.size() : 0;
    }

    /** Of how many databases pages show what held before, for it is still being worked out. */
    public int behind(Lookout.View view) {
        try (Snapshot snapshot = facts.store().read()) {
            FleetStanding standing = evaluations.standing(snapshot);
            int old = old(standing, standing.databases(), view).size();
            return old > waitedFor ? old : 0;
        }
    }

    private static String name(SummaryPart<?> part) {
        return part.getClass().getName();
    }

    private int place(SummaryPart<?> part) {
        return Objects.requireNonNull(places.get(part.getClass()), () -> name(part) + " is not kept");
    }

    @SuppressWarnings("unchecked")
    private <T> T of(Summary summary, SummaryPart<T> part) {
        return (T) summary.parts.get(place(part));
    }

    private FleetStanding current(Wanted wanted, Lookout.View view) {
        try (Snapshot snapshot = facts.store().read()) {
            FleetStanding standing = evaluations.standing(snapshot);
            readOnce(standing);
            List<One> old = old(standing, wanted.of(standing), view);
            if (old.isEmpty()) {
                return standing;
            }
            if (old.size() > waitedFor
                    && old.stream()
                            .allMatch(one -> known.containsKey(one.database().id()))) {
                whenBehind.run();
                return standing;
            }
        }
        return refresh(wanted, view);
    }

    /**
     * That of a fleet nothing is out of date, as all of it was gone through once: until when that stays so, while neither the fleet nor
     * what is known of it changes.
     */
    private record Current(long standing, long madeAnew, Instant from, Instant until) {}

    private volatile @Nullable Current allCurrent;

    /** How often anything of what is known was made anew or forgotten. */
    private final AtomicLong madeAnew = new AtomicLong();

    private List<One> old(FleetStanding standing, List<One> wanted, Lookout.View view) {
        Instant moment = view.asOf();
        long made = madeAnew.get();
        Current all = allCurrent;
        if (all != null
                && all.standing == standing.changes()
                && all.madeAnew == made
                && !moment.isBefore(all.from)
                && moment.isBefore(all.until)) {
            return List.of();
        }
        List<One> out = new ArrayList<>();
        Instant from = Instant.MIN;
        Instant until = Instant.MAX;
        for (One one : wanted) {
            Summary summary = known.get(one.database().id());
            if (summary == null || !summary.stands(one.rests(), moment)) {
                out.add(one);
            } else {
                from = summary.from.isAfter(from) ? summary.from : from;
                until = summary.until.isBefore(until) ? summary.until : until;
            }
        }
        if (out.isEmpty() && wanted == standing.databases()) {
            allCurrent = new Current(standing.changes(), made, from, until);
        }
        return out;
    }

    /**
     * What was worked out before this program was started the last time. What time has made old since is worked out anew like all else:
     * behind whoever asks, where it is much.
     */
    private synchronized void readOnce(FleetStanding standing) {
        if (read) {
            return;
        }
        List<KeptSummaries.Row> rows = new ArrayList<>();
        facts.store().summaries().each(program, rows::add);
        rows.parallelStream()
                .filter(row -> standing.one(row.database())
                        .filter(one -> one.rests().equals(new Rests(row.changes(), row.rules())))
                        .isPresent())
                .forEach(row -> SummaryBytes.read(row.content(), standing.fleet())
                        .map(this::inPlace)
                        .ifPresent(own -> known.put(
                                row.database(),
                                new Summary(new Rests(row.changes(), row.rules()), row.from(), row.until(), own))));
        read = true;
    }

    private @Nullable List<Object> inPlace(Map<String, Object> byName) {
        List<Object> out = new ArrayList<>();
        for (SummaryPart<?> part : parts) {
            Object own = byName.get(name(part));
            if (own == null) {
                return null;
            }
            out.add(own);
        }
        return List.copyOf(out);
    }

    /** Keeps in the file what is new, so that the next start need not work it out. */
    public void write() {
        List<String> some = List.copyOf(unwritten);
        for (int from = 0; from < some.size(); from += AT_ONCE) {
            List<KeptSummaries.Row> rows = some.subList(from, Math.min(from + AT_ONCE, some.size())).stream()
                    .flatMap(id -> {
                        unwritten.remove(id);
                        return Optional.ofNullable(known.get(id)).map(s -> row(id, s)).stream();
                    })
                    .toList();
            facts.store().summaries().keep(program, rows);
        }
    }

    /** Looks anew at what is out of date; one at a time, so that nothing is worked out twice. */
    private FleetStanding refresh(Wanted wanted, Lookout.View view) {
        refreshing.lock();
        try (Snapshot snapshot = facts.store().read()) {
            FleetStanding standing = evaluations.standing(snapshot);
            readOnce(standing);
            List<One> anew = old(standing, wanted.of(standing), view);
            Set<String> turned = ConcurrentHashMap.newKeySet();
            evaluations.eachOf(snapshot, standing.fleet(), anew, view, (kept, one) -> {
                Summary made = summary(kept, one);
                Summary before = known.put(one.id(), made);
                madeAnew.incrementAndGet();
                unwritten.add(one.id());
                if (before == null || parts.stream().anyMatch(p -> tellsOther(p, before, made))) {
                    turned.add(one.id());
                }
            });
            forget(standing);
            if (!turned.isEmpty()) {
                whenTurned.accept(turned);
            }
            return standing;
        } finally {
            refreshing.unlock();
        }
    }

    private <T> boolean tellsOther(SummaryPart<T> part, Summary before, Summary now) {
        return !Objects.equals(part.told(of(before, part)), part.told(of(now, part)));
    }

    private void forget(FleetStanding standing) {
        if (known.size() > standing.databases().size()) {
            known.keySet().retainAll(standing.places().keySet());
            madeAnew.incrementAndGet();
        }
    }

    private Summary summary(Evaluations.KeptAnswer kept, Answered one) {
        List<Object> out = new ArrayList<>(parts.size());
        parts.forEach(part -> out.add(part.of(one)));
        return new Summary(kept.rests(), kept.answer().asOf(), kept.until(), List.copyOf(out));
    }
}
