package firth.server.sheets;

import firth.core.findings.Detail;
import firth.core.findings.Finding;
import firth.core.findings.Finding.Severity;
import firth.core.history.DatabaseFacts;
import firth.server.documents.Document;
import firth.server.documents.Rendering;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.HouseFindings;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import firth.store.StoreFailure;
import io.quarkus.scheduler.Scheduled;
import jakarta.annotation.PostConstruct;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.locks.ReentrantLock;
import java.util.stream.Collectors;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;

/** Writes recovery sheets whenever facts changed: to a directory, and for agents to lay beside the backups. */
@ApplicationScoped
public class Sheets implements HouseFindings {

    private static final Logger LOG = Logger.getLogger(Sheets.class);

    /** Sheets older than the facts by so much are stale. */
    private static final Duration STALE = Duration.ofHours(1);

    private final Evaluations evaluations;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Rendering rendering;
    private final Path directory;
    private final ReentrantLock writing = new ReentrantLock();
    private final Map<String, Made> made = new ConcurrentHashMap<>();
    private final Map<String, SheetMaking.SiteRow> rows = new ConcurrentSkipListMap<>();
    /** The databases whose facts changed since the last writing; at first everything did. */
    private final Set<String> touched = new HashSet<>(Set.of(EVERYTHING));

    private volatile Instant wholly = Instant.EPOCH;
    private volatile @Nullable Instant changedAt;
    private volatile String trouble = "";

    /** The name under which records that all share change. */
    private static final String EVERYTHING = "";

    /** With more databases than so many, all are written anew only now and then. */
    private static final int MANY = 500;

    private static final Duration RARELY = Duration.ofMinutes(10);

    /** A sheet as it was written. */
    private record Made(Instant at, Instant written, String html, String text, Set<String> stores) {}

    Sheets(
            Evaluations evaluations,
            FactsHolder facts,
            Lookout lookout,
            Rendering rendering,
            @ConfigProperty(name = "firth.data") String data,
            @ConfigProperty(name = "firth.sheets.directory") Optional<String> directory) {
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
        this.rendering = rendering;
        this.directory = directory
                .filter(d -> !d.isBlank())
                .map(Path::of)
                .orElse(Path.of(data).toAbsolutePath().resolveSibling("sheets"));
    }

    @PostConstruct
    void listen() {
        facts.store().onChange(databases -> {
            synchronized (touched) {
                if (touched.isEmpty()) {
                    changedAt = lookout.now();
                }
                touched.addAll(databases);
            }
        });
    }

    @Scheduled(every = "60s", delayed = "20s", concurrentExecution = Scheduled.ConcurrentExecution.SKIP)
    void keepUp() {
        Set<String> which;
        synchronized (touched) {
            which = Set.copyOf(touched);
        }
        Instant now = lookout.now();
        boolean all = which.contains(EVERYTHING);
        boolean soon = rows.size() > MANY && wholly.plus(RARELY).isAfter(now);
        if (!which.isEmpty() && !(all && soon)) {
            // Nobody waits for sheets: they are worked out by one thread, and leave the other cores to those who look
            // at a page.
            try (OneThread one = new OneThread()) {
                one.pool.submit(() -> write(all ? Set.of() : which)).join();
            }
        }
    }

    /** A pool in which even what is written for all cores runs on one. */
    private static final class OneThread implements AutoCloseable {
        private final ForkJoinPool pool = new ForkJoinPool(1);

        @Override
        public void close() {
            pool.shutdown();
        }
    }

    /** Writes all anew. */
    public SheetsView write() {
        return write(Set.of());
    }

    /** @param which of which databases; none: of all */
    private SheetsView write(Set<String> which) {
        writing.lock();
        try {
            synchronized (touched) {
                touched.clear();
            }
            Instant now = lookout.standsAt();
            Files.createDirectories(directory);
            for (One one : evaluations.ofFacts(which, (fleet, own) -> one(own, fleet, now))) {
                if (!one.html.isEmpty()) {
                    keep("database-" + one.database, one.html, one.text, one.stores, now);
                }
                rows.remove(one.database);
                one.row.ifPresent(r -> rows.put(one.database, r));
            }
            Map<String, List<SheetMaking.SiteRow>> bySite =
                    rows.values().stream().collect(Collectors.groupingBy(SheetMaking.SiteRow::site));
            for (var site : bySite.entrySet()) {
                Document sheet = SheetMaking.ofSite(site.getValue(), now);
                Set<String> stores = new TreeSet<>();
                site.getValue().forEach(r -> stores.addAll(r.stores()));
                keep("site-" + site.getKey(), rendering.bare(sheet), rendering.text(sheet), stores, now);
            }
            wholly = which.isEmpty() ? lookout.now() : wholly;
            trouble = "";
        } catch (IOException | StoreFailure e) {
            synchronized (touched) {
                touched.add(EVERYTHING);
            }
            trouble = "Recovery sheets could not be written to " + directory + ": " + e.getMessage();
            LOG.error(trouble, e);
        } finally {
            writing.unlock();
        }
        return view();
    }

    private record One(
            String database, String html, String text, Set<String> stores, Optional<SheetMaking.SiteRow> row) {}

    private One one(DatabaseFacts own, FleetNow fleet, Instant now) {
        if (own.database().retiredAt(now)) {
            return new One(own.database().id(), "", "", Set.of(), Optional.empty());
        }
        try (Snapshot snapshot = facts.store().read()) {
            SheetMaking making = new SheetMaking(fleet, own, snapshot, now);
            Document sheet = making.sheet();
            return new One(
                    own.database().id(),
                    rendering.html(sheet),
                    rendering.text(sheet),
                    making.stores(),
                    making.siteRow());
        }
    }

    private void keep(String name, String html, String text, Set<String> stores, Instant now) throws IOException {
        String file = name.replaceAll("[^A-Za-z0-9._-]", "_");
        put(directory.resolve(file + ".html"), html);
        put(directory.resolve(file + ".txt"), text);
        made.put(file, new Made(now, lookout.now(), html, text, stores));
    }

    /** Somebody may be reading the one before. */
    private static void put(Path file, String content) throws IOException {
        Path part = file.resolveSibling(file.getFileName() + ".part");
        Files.writeString(part, content);
        Files.move(part, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    public SheetsView view() {
        List<SheetsView.SheetRow> rows = new ArrayList<>();
        new TreeMap<>(made).forEach((name, m) -> rows.add(new SheetsView.SheetRow(name, m.at())));
        return new SheetsView(directory.toString(), rows, trouble);
    }

    Optional<String> html(String name) {
        return Optional.ofNullable(made.get(name)).map(Made::html);
    }

    Optional<String> text(String name) {
        return Optional.ofNullable(made.get(name)).map(Made::text);
    }

    /** Those that say something of copies in a store and were written after a moment. */
    public List<SheetsView.SheetFor> of(String store, Instant since) {
        List<SheetsView.SheetFor> out = new ArrayList<>();
        new TreeMap<>(made).forEach((name, m) -> {
            if (m.stores().contains(store) && m.written().isAfter(since)) {
                out.add(new SheetsView.SheetFor(name, m.written(), m.html(), m.text()));
            }
        });
        return out;
    }

    @Override
    public List<Finding> findings(Instant now) {
        boolean waiting;
        synchronized (touched) {
            waiting = !touched.isEmpty();
        }
        Optional<Instant> since = Optional.ofNullable(changedAt);
        boolean stale =
                waiting && since.filter(c -> c.plus(STALE).isBefore(now)).isPresent();
        if (trouble.isEmpty() && !stale) {
            return List.of();
        }
        return List.of(new Finding(
                "sheets-stale",
                Severity.RULE_BROKEN,
                "firth-sheets",
                List.of(),
                since,
                new Detail.SheetsStale(
                        since.filter(c -> trouble.isEmpty())
                                .map(c -> Duration.between(c, now))
                                .orElse(Duration.ZERO),
                        trouble,
                        directory.toString()),
                List.of(),
                List.of()));
    }
}
