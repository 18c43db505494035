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
import firth.server.platform.ListPart;
import firth.server.platform.SearchWords;
import firth.store.Snapshot;
import firth.store.StoreFailure;
import io.quarkus.scheduler.Scheduled;
import jakarta.annotation.PostConstruct;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
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
import java.util.stream.Stream;
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

    /** The sites of which a row changed since their pages were written. */
    private final Set<String> sites = ConcurrentHashMap.newKeySet();

    private volatile Instant wholly = Instant.EPOCH;
    private volatile Instant sitesAt = Instant.EPOCH;
    private volatile @Nullable Instant changedAt;
    private volatile String trouble = "";

    /** The name under which records that all share change. */
    private static final String EVERYTHING = "";

    /** How the names of sheets begin. */
    private static final String SITE = "site-";

    private static final String DATABASE = "database-";

    /** With more databases than so many, all are written anew only now and then, and so are pages of sites: every log moves a row there. */
    private static final int MANY = 500;

    private static final Duration RARELY = Duration.ofMinutes(10);

    /** So many are given out at once. */
    private static final int AT_ONCE = 50;

    /**
     * A sheet that was written.
     *
     * @param written when, no two at once
     */
    private record Made(Instant at, Instant written, Set<String> stores) {}

    /** When the newest was written. */
    private Instant newest = Instant.EPOCH;

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
        boolean databases = !which.isEmpty() && !(all && isTooSoon(wholly, now));
        if (databases || (!sites.isEmpty() && !isTooSoon(sitesAt, now))) {
            // Nobody waits for sheets: they are worked out by one thread, and leave the other cores to those who look
            // at a page.
            try (OneThread one = new OneThread()) {
                one.pool.submit(() -> write(databases, all ? Set.of() : which)).join();
            }
        }
    }

    private boolean isTooSoon(Instant last, Instant now) {
        return rows.size() > MANY && last.plus(RARELY).isAfter(now);
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
    void write() {
        write(true, Set.of());
    }

    /**
     * Writes sheets of databases, and of sites what has changed.
     *
     * @param databases whether any is written
     * @param which of which; none: of all
     */
    private void write(boolean databases, Set<String> which) {
        writing.lock();
        try {
            Instant now = lookout.standsAt();
            Files.createDirectories(directory);
            if (databases) {
                synchronized (touched) {
                    touched.removeAll(which.isEmpty() ? Set.copyOf(touched) : which);
                    changedAt = touched.isEmpty() ? changedAt : now;
                }
                evaluations.ofFacts(which, (fleet, own) -> one(own, fleet, now));
                wholly = which.isEmpty() ? lookout.now() : wholly;
            }
            if (which.isEmpty() || !isTooSoon(sitesAt, lookout.now())) {
                ofSites(now);
            }
            trouble = "";
        } catch (IOException | UncheckedIOException | StoreFailure e) {
            synchronized (touched) {
                touched.add(EVERYTHING);
            }
            trouble = "Recovery sheets could not be written to " + directory + ": " + e.getMessage();
            LOG.error(trouble, e);
        } finally {
            writing.unlock();
        }
    }

    private void ofSites(Instant now) throws IOException {
        Set<String> changed = Set.copyOf(sites);
        Map<String, List<SheetMaking.SiteRow>> bySite = rows.values().stream()
                .filter(row -> changed.contains(row.site()))
                .collect(Collectors.groupingBy(SheetMaking.SiteRow::site));
        for (var site : bySite.entrySet()) {
            Document sheet = SheetMaking.ofSite(site.getValue(), now);
            Set<String> stores = new TreeSet<>();
            site.getValue().forEach(r -> stores.addAll(r.stores()));
            keep(SITE + site.getKey(), rendering.bare(sheet), rendering.text(sheet), stores, now);
        }
        sites.removeAll(changed);
        sitesAt = lookout.now();
    }

    /** Keeps what the page of its site says of a database; none where it belongs to none, or is gone. */
    private void keep(String database, Optional<SheetMaking.SiteRow> row) {
        Optional<SheetMaking.SiteRow> before =
                Optional.ofNullable(row.isPresent() ? rows.put(database, row.get()) : rows.remove(database));
        if (!before.equals(row)) {
            Stream.of(before, row).flatMap(Optional::stream).forEach(r -> sites.add(r.site()));
        }
    }

    /** Writes the sheet of one database, and nothing of it is held. */
    private boolean one(DatabaseFacts own, FleetNow fleet, Instant now) {
        String database = own.database().id();
        if (own.database().retiredAt(now)) {
            keep(database, Optional.empty());
            return false;
        }
        try (Snapshot snapshot = facts.store().read()) {
            SheetMaking making = new SheetMaking(fleet, own, snapshot, now);
            Document sheet = making.sheet();
            keep(DATABASE + database, rendering.html(sheet), rendering.text(sheet), making.stores(), now);
            keep(database, making.siteRow());
            return true;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private void keep(String name, String html, String text, Set<String> stores, Instant now) throws IOException {
        String file = name.replaceAll("[^A-Za-z0-9._-]", "_");
        put(directory.resolve(file + ".html"), html);
        put(directory.resolve(file + ".txt"), text);
        // In one step, so that whoever was given the newest has missed none before it.
        synchronized (made) {
            Instant written = lookout.now();
            newest = written.isAfter(newest) ? written : newest.plusMillis(1);
            made.put(file, new Made(now, newest, stores));
        }
    }

    /** Somebody may be reading the one before. */
    private static void put(Path file, String content) throws IOException {
        Path part = file.resolveSibling(file.getFileName() + ".part");
        Files.writeString(part, content);
        Files.move(part, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    /** Those of all sites, and of the databases whose names have some words a stretch. */
    SheetsView view(SearchWords words, ListPart part) {
        List<SheetsView.SheetRow> databases = named(DATABASE).stream()
                .filter(row -> words.areIn(Stream.of(row.name())))
                .toList();
        return new SheetsView(directory.toString(), named(SITE), databases.size(), part.of(databases), trouble);
    }

    /** The sheets of one sort, by name. */
    private List<SheetsView.SheetRow> named(String sort) {
        List<SheetsView.SheetRow> rows = new ArrayList<>();
        new TreeMap<>(made).forEach((name, m) -> {
            if (name.startsWith(sort)) {
                rows.add(new SheetsView.SheetRow(name, name.substring(sort.length()), m.at()));
            }
        });
        return rows;
    }

    /** A sheet as it was written, of one form: html or txt. */
    Optional<String> content(String name, String form) {
        return made.containsKey(name) ? Optional.ofNullable(read(name, form)) : Optional.empty();
    }

    /** Nothing where somebody took it away; it is written again with the next facts. */
    private @Nullable String read(String name, String form) {
        try {
            return Files.readString(directory.resolve(name + "." + form));
        } catch (NoSuchFileException e) {
            LOG.warnf("The recovery sheet %s was taken away from %s.", name, directory);
            return null;
        } catch (IOException e) {
            throw new UncheckedIOException("The recovery sheet " + name + " cannot be read in " + directory, e);
        }
    }

    /** Those that say something of copies in a store and were written after a moment: the earliest, {@value #AT_ONCE} at most. */
    public List<SheetsView.SheetFor> of(String store, Instant since) {
        Map<String, Made> all;
        synchronized (made) {
            all = Map.copyOf(made);
        }
        return all.entrySet().stream()
                .filter(m -> m.getValue().stores().contains(store)
                        && m.getValue().written().isAfter(since))
                .sorted(Comparator.comparing(m -> m.getValue().written()))
                .flatMap(m -> sheet(m.getKey(), m.getValue()).stream())
                .limit(AT_ONCE)
                .toList();
    }

    private Optional<SheetsView.SheetFor> sheet(String name, Made m) {
        String html = read(name, "html");
        String text = read(name, "txt");
        return html == null || text == null
                ? Optional.empty()
                : Optional.of(new SheetsView.SheetFor(name, m.written(), html, text));
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
