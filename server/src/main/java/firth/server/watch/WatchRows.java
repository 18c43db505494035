package firth.server.watch;

import firth.core.findings.Finding;
import firth.core.findings.Finding.Severity;
import firth.core.findings.WayOut;
import firth.core.model.Accept;
import firth.core.model.Database;
import firth.core.model.Kind;
import firth.core.time.Span;
import firth.server.cover.Cover;
import firth.server.cover.CoverRows;
import firth.server.evaluation.FleetNow;
import firth.wording.FindingWords;
import firth.wording.Said;
import firth.wording.WayWords;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Turns findings into what the Watch view shows. */
public final class WatchRows {

    /** How far back ribbons beside findings go. */
    private static final Duration BACK = Duration.ofDays(12);

    private final FleetNow fleet;
    private final Function<String, Optional<Cover.Row>> ribbons;
    private final Map<String, Instant> seen;
    private final List<Accept> accepts;

    WatchRows(
            FleetNow fleet,
            Function<String, Optional<Cover.Row>> ribbons,
            Map<String, Instant> seen,
            List<Accept> accepts) {
        this.fleet = fleet;
        this.ribbons = ribbons;
        this.seen = seen;
        this.accepts = accepts;
    }

    /** @param asOf at which it is to be borne, where it is */
    Watch.FindingView row(Finding f, Instant asOf) {
        Optional<Cover.Row> ribbon = f.databases().size() == 1 && aboutCover(f.severity())
                ? ribbons.apply(f.databases().get(0))
                : Optional.empty();
        return view(
                fleet,
                f,
                id -> ribbons.apply(id).map(Cover.Row::grade).orElse(""),
                seen.get(f.key()),
                borne(f, asOf)
                        .map(a -> new Watch.Accepted(a.id(), a.by(), a.reason(), a.at(), a.until()))
                        .orElse(null),
                ribbon.map(r -> strip(r, asOf.minus(BACK))).orElse(null));
    }

    /** By whom a finding is borne at a moment, where it is. */
    Optional<Accept> borne(Finding f, Instant asOf) {
        return accepts.stream()
                .filter(a -> a.finding().equals(f.key()) && a.holdsAt(asOf))
                .findFirst();
    }

    /** What is drawn: the days before, with fulls and what failed. */
    private static Watch.DaysBefore strip(Cover.Row row, Instant from) {
        return new Watch.DaysBefore(
                row.water().stream().filter(w -> !w.to().isBefore(from)).toList(),
                row.sand().stream().filter(w -> !w.to().isBefore(from)).toList(),
                row.marks().stream()
                        .filter(m -> m.failed() || m.kind().equals(Kind.FULL.word()))
                        .filter(m -> !m.at().isBefore(from))
                        .toList());
    }

    private static boolean aboutCover(Severity s) {
        return s == Severity.STRANDED
                || s == Severity.BEHIND
                || s == Severity.UNBRIDGED_GAP
                || s == Severity.BRIDGED_GAP
                || s == Severity.HAZARD_MISSED;
    }

    /** A finding by itself. */
    public static Watch.FindingView finding(FleetNow fleet, Finding f) {
        return view(fleet, f, id -> "", null, null, null);
    }

    private static Watch.FindingView view(
            FleetNow fleet,
            Finding f,
            Function<String, String> grades,
            @Nullable Instant seen,
            Watch.@Nullable Accepted accepted,
            Watch.@Nullable DaysBefore row) {
        Said said = FindingWords.of(f);
        return new Watch.FindingView(
                f.key(),
                f.code(),
                f.severity().word(),
                f.severity().urgency().word(),
                f.databases().stream()
                        .map(d -> new Watch.GradedDatabase(d, name(fleet, d), grades.apply(d)))
                        .toList(),
                f.databases().stream()
                        .flatMap(d -> fleet.database(d).stream())
                        .findFirst()
                        .map(d -> d.zone().getId())
                        .orElse(null),
                f.breaks().orElse(null),
                f.since().orElse(null),
                seen,
                said.title(),
                said.text(),
                said.action(),
                f.about().startsWith("policy:")
                        ? f.about().substring("policy:".length()).split("/")[0]
                        : null,
                f.waysOut().stream().map(WatchRows::way).toList(),
                f.facts(),
                accepted,
                row);
    }

    static String name(FleetNow fleet, String id) {
        return fleet.database(id).map(Database::name).orElse(id);
    }

    private static Watch.Way way(WayOut w) {
        return new Watch.Way(
                w.action().word(),
                w.kind().map(Kind::word).orElse(null),
                w.store(),
                CoverRows.seconds(w.takes()),
                w.bytes(),
                w.resumes(),
                w.ends(),
                w.stays().map(Span::from).orElse(null),
                w.stays().map(Span::to).orElse(null),
                w.leaves().orElse(null),
                WayWords.of(w));
    }
}
