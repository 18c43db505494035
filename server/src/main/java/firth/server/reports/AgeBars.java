package firth.server.reports;

import firth.server.database.DatabaseView;
import firth.server.documents.Document;
import firth.wording.Wording;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Ages of a recovery point as bars on a logarithmic scale, that a minute can be seen beside a week. */
final class AgeBars {

    /** What lies below is not told apart: half a minute. */
    private static final double LEAST = 30;

    private final ReportView.ReportRow row;
    private final double from;
    private final double length;
    private final double objective;
    private final double least;
    private final double most;

    AgeBars(ReportView.ReportRow row, Instant from, Instant to) {
        this.row = row;
        this.from = from.toEpochMilli();
        this.length = Math.max(1, to.toEpochMilli() - this.from);
        this.objective = row.ages().stream()
                .map(DatabaseView.AgeSlice::objectiveSeconds)
                .filter(o -> o != null)
                .findFirst()
                .orElse(-1.0);
        double worst = worst();
        this.least = Math.max(LEAST, Math.min(objective < 0 ? 3600 : objective, worst) / 6);
        this.most = Math.max(least * 2, worst * 1.3);
    }

    private double worst() {
        return Math.max(
                objective,
                row.ages().stream()
                        .mapToDouble(DatabaseView.AgeSlice::worstSeconds)
                        .max()
                        .orElse(0));
    }

    Optional<Document.Ages> drawn() {
        if (row.ages().isEmpty()) {
            return Optional.empty();
        }
        List<Document.Bar> bars = row.ages().stream().map(this::bar).toList();
        String text = "age at worst "
                + Wording.measured(Duration.ofMillis(Math.round(1000
                        * row.ages().stream()
                                .mapToDouble(DatabaseView.AgeSlice::worstSeconds)
                                .max()
                                .orElse(0))));
        return Optional.of(new Document.Ages(text, bars, objective < 0 ? -1 : height(objective)));
    }

    private Document.Bar bar(DatabaseView.AgeSlice a) {
        double x = Math.max(0, (a.from().toEpochMilli() - from) / length * 1000);
        double end = Math.min(1000, (a.to().toEpochMilli() - from) / length * 1000);
        return new Document.Bar(
                ReportDocument.round(x),
                ReportDocument.round(Math.max(1, end - x - 0.6)),
                height(a.worstSeconds()),
                objective >= 0 && a.worstSeconds() > objective);
    }

    private double height(double seconds) {
        double share = Math.log(Math.max(least, seconds) / least) / Math.log(most / least);
        return ReportDocument.round(Math.max(2, 100 * share));
    }
}
