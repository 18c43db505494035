package firth.server.metrics;

import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.evaluation.HazardEvaluation;
import firth.core.findings.Finding;
import firth.core.model.BackupStore;
import firth.core.model.Hazard;
import firth.core.model.Outcome;
import firth.core.retention.Verdict;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.RetainedBytes;
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
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** The figures of the fleet as a scraper reads them. */
@ApplicationScoped
class Figures {
    private static final String NOTHING_PROMISED = "nothing-promised";

    private final Evaluations evaluations;
    private final FindingsNow findings;
    private final Lookout lookout;
    private final SelfCopying own;
    private final int most;

    /** @param most how many databases have series of their own */
    Figures(
            Evaluations evaluations,
            FindingsNow findings,
            Lookout lookout,
            SelfCopying own,
            @ConfigProperty(name = "firth.metrics.databases") int most) {
        this.evaluations = evaluations;
        this.findings = findings;
        this.lookout = lookout;
        this.own = own;
        this.most = most;
    }

    /** Those of this moment. */
    MetricSnapshots all() {
        Lookout.View view = lookout.view("", "");
        Evaluations.Fleetwide all = evaluations.all(view);
        List<Evaluation> served = all.answers().stream()
                .filter(e -> e.database().isServedAt(view.asOf()))
                .toList();
        MetricSnapshots.Builder out = MetricSnapshots.builder();
        grades(out, served);
        databases(out, served.stream().limit(most).toList(), view.asOf());
        out.metricSnapshot(one(
                "firth_databases_left_out",
                "Databases without series of their own, because there are too many.",
                Math.max(0, served.size() - most)));
        stores(out, all, served);
        out.metricSnapshot(one("firth_runs_running", "Runs under way.", (double) served.stream()
                .flatMap(e -> e.history().runs().stream())
                .filter(r -> r.outcome() == Outcome.RUNNING
                        && !r.started().isAfter(view.asOf())
                        && r.ended().isEmpty())
                .count()));
        findingCounts(out, all, view);
        Optional.ofNullable(own.view().age())
                .ifPresent(age -> out.metricSnapshot(
                        one("firth_own_copy_age_seconds", "Age of the newest copy of Firth's own facts.", age)));
        return out.build();
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

    static void grades(MetricSnapshots.Builder out, List<Evaluation> served) {
        Map<String, Long> counted =
                served.stream().collect(Collectors.groupingBy(Figures::grade, Collectors.counting()));
        GaugeSnapshot.Builder grades =
                GaugeSnapshot.builder().name("firth_databases").help("Databases by grade.");
        Stream.concat(Arrays.stream(Grade.values()).map(Grade::word), Stream.of(NOTHING_PROMISED))
                .forEach(g -> grades.dataPoint(point(counted.getOrDefault(g, 0L), "grade", g)));
        out.metricSnapshot(grades.build());
    }

    /** The grade, without the hazards it is named with on pages. */
    private static String grade(Evaluation e) {
        return e.grade() == Grade.COVERED && e.promisesNothing()
                ? NOTHING_PROMISED
                : e.grade().word();
    }

    static void databases(MetricSnapshots.Builder out, List<Evaluation> shown, Instant now) {
        GaugeSnapshot.Builder age = GaugeSnapshot.builder()
                .name("firth_recovery_point_age_seconds")
                .help("Age of the newest moment that could be restored after a hazard.");
        GaugeSnapshot.Builder objective = GaugeSnapshot.builder()
                .name("firth_objective_seconds")
                .help("The age that is promised not to be exceeded.");
        GaugeSnapshot.Builder kept = GaugeSnapshot.builder()
                .name("firth_attainment_ratio")
                .help("Share of the last 30 days in which the objective was kept.");
        for (Evaluation e : shown) {
            for (Hazard hazard : Hazard.values()) {
                HazardEvaluation h = e.under(hazard);
                String[] labels = {"database", e.database().id(), "hazard", hazard.field()};
                age.dataPoint(point(e.age(hazard, now).toMillis() / 1000.0, labels));
                h.objective().ifPresent(o -> objective.dataPoint(point(o.toMillis() / 1000.0, labels)));
                h.achieved().attainment().ifPresent(a -> kept.dataPoint(point(a, labels)));
            }
        }
        out.metricSnapshot(age.build());
        out.metricSnapshot(objective.build());
        out.metricSnapshot(kept.build());
    }

    static void stores(MetricSnapshots.Builder out, Evaluations.Fleetwide all, List<Evaluation> served) {
        Map<String, Double> used = RetainedBytes.byStore(served, v -> true);
        Map<String, Double> obsolete = RetainedBytes.byStore(served, v -> v != Verdict.NEEDED);
        GaugeSnapshot.Builder room = GaugeSnapshot.builder()
                .name("firth_store_bytes")
                .help("Room of a store: its capacity, what is used of it, and what of that no rule needs.");
        for (BackupStore s : all.fleet().fleet().stores()) {
            s.capacityBytes().ifPresent(c -> room.dataPoint(point(c, "store", s.id(), "of", "capacity")));
            room.dataPoint(point(used.getOrDefault(s.id(), 0.0), "store", s.id(), "of", "used"));
            room.dataPoint(point(obsolete.getOrDefault(s.id(), 0.0), "store", s.id(), "of", "obsolete"));
        }
        out.metricSnapshot(room.build());
    }

    void findingCounts(MetricSnapshots.Builder out, Evaluations.Fleetwide all, Lookout.View view) {
        Map<Finding.Severity, Long> counted =
                findings.now(all.fleet(), findings.conditions(view), view.asOf(), lookout.now()).stream()
                        .collect(Collectors.groupingBy(Finding::severity, Collectors.counting()));
        GaugeSnapshot.Builder series =
                GaugeSnapshot.builder().name("firth_findings").help("Findings by rank.");
        Arrays.stream(Finding.Severity.values())
                .forEach(s -> series.dataPoint(point(counted.getOrDefault(s, 0L), "rank", s.word())));
        out.metricSnapshot(series.build());
    }
}
