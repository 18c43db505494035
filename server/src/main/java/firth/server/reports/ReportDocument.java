package firth.server.reports;

import firth.server.cover.Cover;
import firth.server.documents.Document;
import firth.wording.Wording;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** A report as a document for people. Times are in UTC, for it may be of many zones. */
final class ReportDocument {

    private static final DateTimeFormatter MOMENT =
            DateTimeFormatter.ofPattern("d MMM uuuu HH:mm", Locale.ENGLISH).withZone(ZoneOffset.UTC);
    /** Of names in a sentence so many are given. */
    private static final int NAMED = 20;

    private static final int BREACHES = 60;
    private static final int RIBBONS = 60;

    private final ReportView r;
    private final int most;
    private final List<Document.Section> out = new ArrayList<>();

    private ReportDocument(ReportView report, int most) {
        this.r = report;
        this.most = most;
    }

    /** With everything in it. */
    static Document sheet(ReportView report) {
        return new ReportDocument(report, Integer.MAX_VALUE).sheet();
    }

    /** With so many rows of each table, for a screen. */
    static Document sheet(ReportView report, int most) {
        return new ReportDocument(report, most).sheet();
    }

    static String hazard(String field) {
        return switch (field) {
            case "siteLoss" -> "site loss";
            default -> field;
        };
    }

    private Document sheet() {
        List<Document.Part> first = new ArrayList<>();
        r.notes().forEach(n -> first.add(new Document.Text(n)));
        if (!r.rows().isEmpty()) {
            summary().forEach(s -> first.add(new Document.Text(s)));
        }
        out.add(new Document.Section("In short", first));
        cover();
        for (String hazard : List.of("mishap", "siteLoss", "sabotage")) {
            promises(hazard);
        }
        breaches();
        slots();
        standing();
        drills();
        copies();
        decisions();
        return new Document(
                "Report: " + r.title(),
                moment(r.from()) + " to " + moment(r.to()) + " (UTC), as known " + moment(r.asOf()) + ".",
                out,
                "Made by Firth. All figures follow from the facts known " + moment(r.asOf()) + " (UTC).");
    }

    /** What was lost: breaches of a promise, and gaps in the logs. */
    private void breaches() {
        table(
                "Breaches, the worst first",
                r.breaches().stream().limit(BREACHES).toList(),
                List.of("Database", "After", "From", "To", "Worst age", "Cause"),
                b -> List.of(
                        b.name(),
                        hazard(b.hazard()),
                        moment(b.from()),
                        moment(b.to()),
                        measured(b.worst()),
                        b.cause()));
        if (r.breaches().size() > BREACHES) {
            out.add(new Document.Section(
                    "",
                    new Document.Text("And " + (r.breaches().size() - BREACHES)
                            + " smaller ones; all are in the table of values.")));
        }
        table(
                "Gaps in the logs",
                r.gaps(),
                List.of("Database", "Stream", "From", "To", "State", "Cause"),
                g -> List.of(
                        g.name(),
                        g.stream(),
                        moment(g.after()),
                        moment(g.before()),
                        g.bridged() ? "bridged" : "unbridged",
                        g.cause().replace('-', ' ')));
    }

    private void slots() {
        table(
                "Slots and logs",
                r.rows(),
                List.of(
                        "Database",
                        "Slots",
                        "On time",
                        "Late",
                        "Overran",
                        "Failed",
                        "Missed",
                        "Excused",
                        "Logs missed"),
                w -> List.of(
                        w.name(),
                        "" + w.slots(),
                        "" + w.onTime(),
                        "" + w.late(),
                        "" + w.overran(),
                        "" + w.failed(),
                        "" + w.missed(),
                        "" + w.excused(),
                        "" + w.logsMissed()));
    }

    /** How each database stood at the end of the period. */
    private void standing() {
        table(
                "Grade, reach, restore time and proof at the end of the period",
                r.rows(),
                List.of(
                        "Database",
                        "Grade",
                        "Reach promised",
                        "Reach",
                        "Restore promised",
                        "Restore",
                        "Evidence",
                        "Last proved",
                        "Drill due"),
                w -> List.of(
                        w.name(),
                        graded(w),
                        promised(w.reachPromised()),
                        measured(w.reach()),
                        promised(w.restorePromised()),
                        w.restore() == null ? "not known" : measured(w.restore()),
                        w.evidence() == null ? "" : w.evidence(),
                        w.proved() == null ? "never" : moment(w.proved()),
                        moment(w.drillDue())));
    }

    private void drills() {
        table(
                "Drills",
                r.drills(),
                List.of("Database", "When", "Outcome", "Took", "Checked", "Said"),
                d -> List.of(
                        d.name(),
                        moment(d.at()),
                        d.outcome(),
                        d.took() == null ? "" : measured(d.took()),
                        String.join(", ", d.checks()),
                        d.message()));
    }

    /** Copies that are there, and those that were deleted. */
    private void copies() {
        table(
                "Copies",
                r.rows().stream()
                        .filter(w -> w.copiesRule() != null || w.obsolete() > 0)
                        .toList(),
                List.of("Database", "Copies rule", "Backups short of it", "Copies no rule needs", "Room they take"),
                w -> List.of(
                        w.name(),
                        Optional.ofNullable(w.copiesRule()).orElse("none"),
                        "" + w.copiesPending(),
                        "" + w.obsolete(),
                        Wording.bytes(w.obsoleteBytes())));
        table(
                "Deleted",
                r.purges(),
                List.of("Asked", "Where", "By", "Approved by", "Copies", "Room", "Entry of the record", "Hash"),
                p -> List.of(
                        moment(p.at()),
                        p.where(),
                        p.askedBy(),
                        String.join(", ", p.approvedBy()),
                        "" + p.deleted(),
                        Wording.bytes(p.bytes()),
                        "" + p.entry(),
                        p.hash()));
    }

    /** What people decided, and what changed. */
    private void decisions() {
        table(
                "Accepted",
                r.accepted(),
                List.of("Finding", "By", "Why", "From", "Until"),
                a -> List.of(a.finding(), a.by(), a.reason(), moment(a.at()), moment(a.until())));
        table(
                "Policy versions in force",
                r.policies(),
                List.of("Policy", "Version", "Since", "Promises"),
                p -> List.of(p.name(), "" + p.version(), moment(p.from()), p.promise()));
        table("Changes in the fleet", r.changes(), List.of("When", "What"), c -> List.of(moment(c.at()), c.text()));
    }

    private List<String> summary() {
        List<String> said = new ArrayList<>();
        said.add(r.rows().size() == 1 ? "One database." : r.rows().size() + " databases.");
        for (String hazard : List.of("mishap", "siteLoss", "sabotage")) {
            List<Attained> promised =
                    r.rows().stream().flatMap(w -> attained(w, hazard).stream()).toList();
            if (!promised.isEmpty()) {
                long whole = promised.stream().filter(w -> w.attainment >= 1).count();
                Attained worst = promised.stream()
                        .min(Comparator.comparingDouble(Attained::attainment))
                        .orElseThrow();
                said.add("After " + article(hazard) + " the objective was kept all the time by " + whole + " of "
                        + promised.size() + " that promise one"
                        + (whole == promised.size()
                                ? "."
                                : "; least by " + worst.name + ", " + percent(worst.attainment) + "."));
            }
        }
        List<String> nothing = r.rows().stream()
                .filter(w -> w.reachPromised() == null && w.kept().stream().allMatch(k -> k.promised() == null))
                .map(ReportView.ReportRow::name)
                .toList();
        if (!nothing.isEmpty()) {
            String others = nothing.size() > NAMED ? " and " + (nothing.size() - NAMED) + " more" : "";
            said.add("Nothing is promised of " + nothing.stream().limit(NAMED).collect(Collectors.joining(", "))
                    + others + ".");
        }
        return said;
    }

    private static String article(String hazard) {
        return switch (hazard) {
            case "siteLoss" -> "loss of the site";
            case "sabotage" -> "sabotage";
            default -> "a mishap";
        };
    }

    /** For how much of the period a database's objective was kept. */
    private record Attained(String name, double attainment) {}

    /** Empty where nothing is promised. */
    private static Optional<Attained> attained(ReportView.ReportRow row, String hazard) {
        return Optional.ofNullable(kept(row, hazard).attainment()).map(a -> new Attained(row.name(), a));
    }

    private static ReportView.Kept kept(ReportView.ReportRow row, String hazard) {
        return row.kept().stream()
                .filter(k -> k.hazard().equals(hazard))
                .findFirst()
                .orElseThrow();
    }

    private void promises(String hazard) {
        List<ReportView.ReportRow> promised = r.rows().stream()
                .filter(w ->
                        kept(w, hazard).attainment() != null || kept(w, hazard).promised() != null)
                .toList();
        table(
                "Promised and achieved: " + hazard(hazard),
                promised,
                List.of(
                        "Database",
                        "Policy",
                        "Promised",
                        "Worst",
                        "95 %",
                        "99 %",
                        "Kept",
                        "Breaches",
                        "Kept before",
                        "Worst before"),
                w -> {
                    ReportView.Kept k = kept(w, hazard);
                    return List.of(
                            w.name(),
                            Optional.ofNullable(w.policy())
                                    .map(p -> p.replaceFirst(", version \\d+$", ""))
                                    .orElse(""),
                            promised(k.promised()),
                            measured(k.worst()),
                            measured(k.p95()),
                            measured(k.p99()),
                            percent(k.attainment()),
                            "" + k.breaches(),
                            percent(k.before().attainment()),
                            k.before().worst() == 0 ? "" : measured(k.before().worst()));
                });
    }

    private void cover() {
        List<Document.Part> parts = new ArrayList<>();
        double from = r.from().toEpochMilli();
        double length = Math.max(1, r.to().toEpochMilli() - from);
        for (ReportView.ReportRow w : r.rows().stream().limit(RIBBONS).toList()) {
            List<Document.Band> bands = new ArrayList<>();
            for (Cover.Water p : w.water()) {
                double x = Math.max(0, (p.from().toEpochMilli() - from) / length * 1000);
                double end = Math.min(1000, (p.to().toEpochMilli() - from) / length * 1000);
                bands.add(new Document.Band(round(x), round(Math.max(1.5, end - x)), p.depth()));
            }
            String graded = graded(w);
            parts.add(new Document.Ribbon(
                    w.name(),
                    graded,
                    bands,
                    moment(r.from()),
                    moment(r.to()),
                    new AgeBars(w, r.from(), r.to()).drawn()));
        }
        if (!parts.isEmpty()) {
            parts.add(
                    0,
                    new Document.Text(
                            "Above, every moment that could be restored at the end of the period, deeper the more hazards it survives; hatched: none could. Below, how old the recovery point was after a mishap, on a scale where each step up is as many times more; the dashed line is what is promised, red what was older."));
            out.add(new Document.Section("Cover and ages", parts));
        }
    }

    /** The grade at the end of the period, with the word of today beside it where it differs. */
    private static String graded(ReportView.ReportRow w) {
        return w.gradeToday() == null ? w.grade() : w.grade() + "; today " + w.gradeToday();
    }

    static double round(double x) {
        return Math.round(x * 100) / 100.0;
    }

    private <T> void table(String heading, List<T> rows, List<String> head, Function<T, List<String>> cells) {
        if (!rows.isEmpty()) {
            List<Document.Part> parts = new ArrayList<>();
            parts.add(new Document.Table(
                    head, rows.stream().limit(most).map(cells).toList()));
            if (rows.size() > most) {
                parts.add(new Document.Text("And " + (rows.size() - most) + " more; all are in the printed report."));
            }
            out.add(new Document.Section(heading, parts));
        }
    }

    /** A moment as it stands in the document: in UTC. */
    static String moment(@Nullable Instant at) {
        return at == null ? "" : MOMENT.format(at);
    }

    private static String measured(double seconds) {
        return together(Wording.measured(Duration.ofMillis(Math.round(seconds * 1000))));
    }

    private static String promised(@Nullable Double seconds) {
        return seconds == null ? "" : together(Wording.duration(Duration.ofMillis(Math.round(seconds * 1000))));
    }

    /** A figure and its unit stand on one line. */
    private static String together(String figure) {
        return figure.replace(' ', '\u00a0');
    }

    /** Never more than there was: 100 % is said of nothing less. */
    private static String percent(@Nullable Double share) {
        return share == null ? "" : together(String.format(Locale.ROOT, "%.2f %%", Math.floor(share * 10_000) / 100));
    }
}
