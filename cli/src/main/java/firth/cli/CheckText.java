package firth.cli;

import firth.core.cover.Gap;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.findings.Finding;
import firth.core.model.Hazard;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import firth.exchange.ImportReport;
import firth.wording.FindingWords;
import firth.wording.Said;
import firth.wording.Wording;
import java.io.IOException;
import java.io.PrintWriter;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;

/** The answers as text for a person at a terminal: a line per database, then its gaps and what may be purged. */
final class CheckText implements CheckCommand.Answers.Sink {

    private static final String ROW = "%-24s %-17s %12s %12s %12s %12s  %s%n";

    private final PrintWriter out;
    private final Hazard hazard;

    CheckText(PrintWriter out, Hazard hazard) {
        this.out = out;
        this.hazard = hazard;
    }

    void write(Instant now, Span period, List<ImportReport> reports, CheckCommand.Answers answers) throws IOException {
        for (ImportReport report : reports) {
            for (ImportReport.Rejected r : report.rejected()) {
                out.printf(
                        Locale.ROOT,
                        "%s line %d%s %s%n",
                        r.file(),
                        r.line(),
                        r.field().isEmpty() ? ":" : ", " + r.field() + ":",
                        r.reason());
            }
        }
        out.printf(
                Locale.ROOT, "As of %s, %s; figures over %s to %s%n", now, hazard.field(), period.from(), period.to());
        out.printf(Locale.ROOT, ROW, "database", "grade", "age", "promised", "worst", "reach", "to purge");
        answers.each(this);
    }

    @Override
    public void take(Evaluation e, List<Finding> findings) {
        HazardEvaluation h = e.under(hazard);
        out.printf(
                Locale.ROOT,
                ROW,
                e.database().id(),
                Wording.grade(e),
                h.recoveryPoint().isPresent() ? Wording.measured(h.age()) : "nothing",
                h.objective().map(Wording::measured).orElse("-"),
                Wording.measured(Duration.ofMillis((long) h.achieved().max())),
                e.pointsOnly() ? "points only" : Wording.measured(e.reach().achieved()),
                purge(e));
        for (Gap gap : e.gaps()) {
            out.printf(
                    Locale.ROOT,
                    "    gap %d-%d%s, %s to %s, %s, %s%n",
                    gap.from(),
                    gap.to(),
                    line(e, gap),
                    gap.after().map(Instant::toString).orElse("the beginning"),
                    gap.before().map(Instant::toString).orElse("now"),
                    gap.cause().word(),
                    gap.bridgedBy().map(b -> "bridged by " + b).orElse("unbridged"));
        }
        findings.forEach(f -> {
            Said said = FindingWords.of(f);
            out.printf(
                    Locale.ROOT, "    %s: %s. %s %s%n", f.severity().word(), said.title(), said.text(), said.action());
        });
    }

    /** Which lineage and stream a gap is in, where there are several. */
    private static String line(Evaluation e, Gap gap) {
        String lineage = e.database().lineages().size() > 1 ? " of lineage " + gap.lineage() : "";
        return lineage + (e.database().streams().size() > 1 ? " in stream " + gap.stream() : "");
    }

    private static String purge(Evaluation e) {
        int copies = 0;
        double bytes = 0;
        for (int r = 0; r < e.retention().size(); r++) {
            if (e.retention().verdict(r) != Verdict.NEEDED) {
                copies++;
                bytes +=
                        Double.isNaN(e.retention().bytes(r)) ? 0 : e.retention().bytes(r);
            }
        }
        return copies == 0 ? "nothing" : String.format(Locale.ROOT, "%d copies, %.1f GB", copies, bytes / 1e9);
    }
}
