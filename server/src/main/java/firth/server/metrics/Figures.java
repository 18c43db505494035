package firth.server.metrics;

import firth.core.evaluation.Grade;
import firth.core.findings.Finding;
import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.FleetNow;
import firth.server.evaluation.HeldPart;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Parts;
import firth.server.evaluation.Summaries;
import firth.server.selfcopy.SelfCopying;
import io.prometheus.metrics.model.snapshots.GaugeSnapshot;
import io.prometheus.metrics.model.snapshots.GaugeSnapshot.GaugeDataPointSnapshot;
import io.prometheus.metrics.model.snapshots.Labels;
import io.prometheus.metrics.model.snapshots.MetricSnapshots;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** The figures of the fleet as a scraper reads them. */
@ApplicationScoped
class Figures {

    private final Summaries summaries;
    private final FigurePart part;
    private final HeldPart held;
    private final FindingsNow findings;
    private final Lookout lookout;
    private final SelfCopying own;
    private final int most;

    /** @param most how many databases have series of their own */
    Figures(
            Summaries summaries,
            FigurePart part,
            HeldPart held,
            FindingsNow findings,
            Lookout lookout,
            SelfCopying own,
            @ConfigProperty(name = "firth.metrics.databases") int most) {
        this.summaries = summaries;
        this.part = part;
        this.held = held;
        this.findings = findings;
        this.lookout = lookout;
        this.own = own;
        this.most = most;
    }

    /** Those of this moment. */
    MetricSnapshots all() {
        Lookout.View view = lookout.view("", "");
        List<Served> served = served(view);
        MetricSnapshots.Builder out = MetricSnapshots.builder();
        grades(out, served);
        databases(out, served.stream().limit(most).toList(), view.asOf());
        out.metricSnapshot(one(
                "firth_databases_left_out",
                "Databases without series of their own, because there are too many.",
                Math.max(0, served.size() - most)));
        FleetNow fleet = stores(out, view);
        out.metricSnapshot(one(
                "firth_runs_running",
                "Runs under way.",
                served.stream().mapToInt(s -> s.figure.running()).sum()));
        findingCounts(out, fleet, view);
        Optional.ofNullable(own.view().age())
                .ifPresent(age -> out.metricSnapshot(
                        one("firth_own_copy_age_seconds", "Age of the newest copy of Firth's own facts.", age)));
        return out.build();
    }

    /** A database in service. */
    private record Served(Database database, FigurePart.DatabaseFigures figure) {}

    private List<Served> served(Lookout.View view) {
        Parts<FigurePart.DatabaseFigures> all = summaries.all(view, part);
        return IntStream.range(0, all.each().size())
                .mapToObj(i -> new Served(all.databases().get(i), all.each().get(i)))
                .filter(s -> s.database.isServedAt(view.asOf()))
                .toList();
    }

    static GaugeSnapshot one(String name, String help, double value) {
        return GaugeSnapshot.builder()
                .name(name)
                .help(help)
                .dataPoint(point(value))
                .build();
    }

    private static GaugeDataPointSnapshot point(double value, String... labels) {
        return GaugeDataPointSnapshot.builder()
                .value(value)
                .labels(Labels.of(labels))
                .build();
    }

    private static void grades(MetricSnapshots.Builder out, List<Served> served) {
        Map<String, Long> counted =
                served.stream().collect(Collectors.groupingBy(s -> s.figure.grade(), Collectors.counting()));
        GaugeSnapshot.Builder grades =
                GaugeSnapshot.builder().name("firth_databases").help("Databases by grade.");
        Stream.concat(Arrays.stream(Grade.values()).map(Grade::word), Stream.of(FigurePart.NOTHING_PROMISED))
                .forEach(g -> grades.dataPoint(point(counted.getOrDefault(g, 0L), "grade", g)));
        out.metricSnapshot(grades.build());
    }

    private static void databases(MetricSnapshots.Builder out, List<Served> shown, Instant now) {
        GaugeSnapshot.Builder age = GaugeSnapshot.builder()
                .name("firth_recovery_point_age_seconds")
                .help("Age of the newest moment that could be restored after a hazard.");
        GaugeSnapshot.Builder objective = GaugeSnapshot.builder()
                .name("firth_objective_seconds")
                .help("The age that is promised not to be exceeded.");
        GaugeSnapshot.Builder kept = GaugeSnapshot.builder()
                .name("firth_attainment_ratio")
                .help("Share of the last 30 days in which the objective was kept.");
        for (Served s : shown) {
            for (FigurePart.HazardFigures r : s.figure.readings()) {
                String[] labels = {
                    "database", s.database.id(), "hazard", r.hazard().field()
                };
                age.dataPoint(point(r.ageSeconds(s.figure.asOf(), now), labels));
                r.objective().ifPresent(o -> objective.dataPoint(point(o.toMillis() / 1000.0, labels)));
                r.attainment().ifPresent(a -> kept.dataPoint(point(a, labels)));
            }
        }
        out.metricSnapshot(age.build());
        out.metricSnapshot(objective.build());
        out.metricSnapshot(kept.build());
    }

    /** The room of stores, and the records it rests on. */
    private FleetNow stores(MetricSnapshots.Builder out, Lookout.View view) {
        Parts<Map<String, HeldPart.Held>> all = summaries.all(view, held);
        Map<String, Double> used = new TreeMap<>();
        Map<String, Double> obsolete = new TreeMap<>();
        for (int i = 0; i < all.each().size(); i++) {
            if (all.databases().get(i).isServedAt(view.asOf())) {
                all.each().get(i).forEach((store, h) -> {
                    used.merge(store, h.bytes(), Double::sum);
                    obsolete.merge(store, h.obsolete(), Double::sum);
                });
            }
        }
        GaugeSnapshot.Builder room = GaugeSnapshot.builder()
                .name("firth_store_bytes")
                .help("Room of a store: its capacity, what is used of it, and what of that no rule needs.");
        for (BackupStore s : all.now().fleet().stores()) {
            s.capacityBytes().ifPresent(c -> room.dataPoint(point(c, "store", s.id(), "of", "capacity")));
            room.dataPoint(point(used.getOrDefault(s.id(), 0.0), "store", s.id(), "of", "used"));
            room.dataPoint(point(obsolete.getOrDefault(s.id(), 0.0), "store", s.id(), "of", "obsolete"));
        }
        out.metricSnapshot(room.build());
        return all.now();
    }

    void findingCounts(MetricSnapshots.Builder out, FleetNow fleet, Lookout.View view) {
        Map<Finding.Severity, Long> counted =
                findings.now(fleet, findings.conditions(view), view.asOf(), lookout.now()).stream()
                        .collect(Collectors.groupingBy(Finding::severity, Collectors.counting()));
        GaugeSnapshot.Builder series =
                GaugeSnapshot.builder().name("firth_findings").help("Findings by rank.");
        Arrays.stream(Finding.Severity.values())
                .forEach(s -> series.dataPoint(point(counted.getOrDefault(s, 0L), "rank", s.word())));
        out.metricSnapshot(series.build());
    }
}
