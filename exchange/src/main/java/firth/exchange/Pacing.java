package firth.exchange;

import firth.core.evaluation.Evaluation;
import firth.core.findings.TakingFindings.Paced;
import firth.core.findings.TakingFindings.PieceWritten;
import firth.core.forecast.Course;
import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Kind;
import firth.core.model.Run;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

/** How fast runs went: by what they said while they ran, else by what they brought and how long they took. */
final class Pacing {

    private Pacing() {}

    /** The run of each data or config backup of some, where it has begun and ended by the evaluation. */
    static List<Paced> of(Evaluation e, Collection<Backup> backups) {
        List<Paced> out = new ArrayList<>();
        for (Backup b : backups) {
            if (b.kind() == Kind.LOG) {
                continue;
            }
            Optional<Run> run = e.history().runs().stream()
                    .filter(r -> b.run().filter(r.id()::equals).isPresent())
                    .findFirst();
            Instant started = run.map(Run::started).orElse(b.started());
            Instant ended = run.flatMap(Run::ended).orElse(b.ended());
            if (started.isBefore(ended) && !ended.isAfter(e.asOf())) {
                // What a run took is what its own kind holds: a configuration beside it is small.
                boolean own = run.filter(r -> r.kind() != b.kind()).isEmpty();
                List<PieceWritten> said = run.filter(r -> own).map(Pacing::said).orElse(List.of());
                List<PieceWritten> whole = own && bytes(b).isPresent()
                        ? List.of(new PieceWritten(started, ended, bytes(b).getAsDouble()))
                        : List.of();
                out.add(new Paced(
                        run.map(Run::id).orElse(b.id()),
                        b.kind(),
                        first(b).map(Copy::store),
                        said.isEmpty() ? whole : said));
            }
        }
        return out;
    }

    /** The copy it wrote itself: the one that came first. */
    private static Optional<Copy> first(Backup b) {
        return b.copies().stream().min(Comparator.comparing(Copy::landed).thenComparing(Copy::store));
    }

    private static OptionalDouble bytes(Backup b) {
        OptionalDouble own = first(b).map(Copy::bytes).orElse(OptionalDouble.empty());
        return own.isPresent() ? own : b.bytes();
    }

    private static List<PieceWritten> said(Run run) {
        List<PieceWritten> out = new ArrayList<>();
        Instant from = run.started();
        double before = 0;
        for (Course.Point point : Told.of(run).course()) {
            if (point.at().isAfter(from)) {
                out.add(new PieceWritten(from, point.at(), Math.max(0, point.writtenBytes() - before)));
                from = point.at();
                before = point.writtenBytes();
            }
        }
        return out;
    }
}
