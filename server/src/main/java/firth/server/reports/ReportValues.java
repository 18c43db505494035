package firth.server.reports;

import java.io.IOException;
import java.io.StringWriter;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** A report as a table of values: a line for each database and hazard. */
final class ReportValues {

    private ReportValues() {}

    static String csv(ReportView report) throws IOException {
        StringWriter out = new StringWriter();
        CSVFormat format = CSVFormat.RFC4180
                .builder()
                .setHeader(
                        "database",
                        "policy",
                        "grade",
                        "hazard",
                        "promised_seconds",
                        "worst_seconds",
                        "median_seconds",
                        "p95_seconds",
                        "p99_seconds",
                        "attainment",
                        "breaches",
                        "attainment_before",
                        "worst_before_seconds",
                        "reach_promised_seconds",
                        "reach_seconds",
                        "reach_cover",
                        "slots",
                        "on_time",
                        "late",
                        "overran",
                        "failed",
                        "missed",
                        "excused",
                        "logs_missed",
                        "gaps_unbridged",
                        "gaps_bridged",
                        "restore_promised_seconds",
                        "restore_seconds",
                        "last_proved",
                        "drill_due",
                        "copies_obsolete",
                        "bytes_obsolete",
                        "backups_short_of_copies",
                        "grade_today",
                        "onboarding_until",
                        "evidence")
                .get();
        try (CSVPrinter csv = new CSVPrinter(out, format)) {
            for (ReportView.ReportRow r : report.rows()) {
                for (ReportView.Kept k : r.kept()) {
                    csv.printRecord(
                            r.database(),
                            r.policy(),
                            r.grade(),
                            k.hazard(),
                            k.promised(),
                            k.worst(),
                            k.median(),
                            k.p95(),
                            k.p99(),
                            k.attainment(),
                            k.breaches(),
                            k.before().attainment(),
                            k.before().worst(),
                            r.reachPromised(),
                            r.reach(),
                            r.reachCover(),
                            r.slots(),
                            r.onTime(),
                            r.late(),
                            r.overran(),
                            r.failed(),
                            r.missed(),
                            r.excused(),
                            r.logsMissed(),
                            r.gapsOpen(),
                            r.gapsBridged(),
                            r.restorePromised(),
                            r.restore(),
                            r.proved(),
                            r.drillDue(),
                            r.obsolete(),
                            r.obsoleteBytes(),
                            r.copiesPending(),
                            r.gradeToday(),
                            r.onboardingUntil(),
                            r.evidence());
                }
            }
        }
        return out.toString();
    }
}
