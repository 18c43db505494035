package firth.exchange;

import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Run;
import firth.core.model.Traits;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.Collectors;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** Lines of history as a table (RFC 4180): one row a run or backup, with what was made of it. */
public final class HistoryCsv implements AutoCloseable {

    private static final CSVFormat FORMAT = CSVFormat.RFC4180
            .builder()
            .setHeader(
                    "database",
                    "name",
                    "kind",
                    "run",
                    "backup",
                    "started",
                    "ended",
                    "outcome",
                    "seconds",
                    "usualSeconds",
                    "bytes",
                    "usualBytes",
                    "bytesRead",
                    "parallel",
                    "schedule",
                    "verdict",
                    "spillSeconds",
                    "demandsBroken",
                    "copies",
                    "message")
            .get();

    private final CSVPrinter out;

    public HistoryCsv(OutputStream to) throws IOException {
        out = new CSVPrinter(new OutputStreamWriter(to, StandardCharsets.UTF_8), FORMAT);
    }

    /** What was made of a line: its figures beside the usual ones, its slot, what it is not though it should be. */
    public record Judged(
            String name,
            String outcome,
            Optional<Double> usualSeconds,
            Optional<Double> usualBytes,
            Optional<String> schedule,
            Optional<String> verdict,
            double spillSeconds,
            List<String> broken) {}

    /** @throws IOException where it cannot be written */
    public void write(Optional<Run> run, Optional<Backup> backup, Judged judged) throws IOException {
        boolean over = !judged.outcome.equals("running");
        Instant started =
                run.map(Run::started).or(() -> backup.map(Backup::started)).orElseThrow();
        Optional<Instant> ended =
                (run.isPresent() ? run.flatMap(Run::ended) : backup.map(Backup::ended)).filter(e -> over);
        Optional<Backup> made = backup.filter(b -> over);
        Traits traits = made.map(Told::of).orElse(Traits.NONE);
        out.printRecord(
                backup.map(Backup::database).or(() -> run.map(Run::database)).orElseThrow(),
                judged.name,
                backup.map(Backup::kind)
                        .or(() -> run.map(Run::kind))
                        .orElseThrow()
                        .word(),
                run.map(Run::id).orElse(""),
                made.map(Backup::id).orElse(""),
                started,
                text(ended),
                judged.outcome,
                text(ended.map(e -> Duration.between(started, e).toMillis() / 1000.0)),
                text(judged.usualSeconds),
                made.map(b -> number(b.bytes())).orElse(""),
                text(judged.usualBytes),
                number(traits.bytesRead()),
                traits.parallel().isPresent() ? traits.parallel().getAsInt() : "",
                judged.schedule.orElse(""),
                judged.verdict.orElse(""),
                judged.spillSeconds,
                String.join(" ", judged.broken),
                made.map(HistoryCsv::copies).orElse(""),
                run.flatMap(Run::message).orElse(""));
    }

    private static String copies(Backup backup) {
        return backup.copies().stream().map(HistoryCsv::copy).collect(Collectors.joining(" | "));
    }

    private static String copy(Copy copy) {
        StringBuilder out = new StringBuilder("store=" + copy.store() + ";landed=" + copy.landed());
        copy.lockedUntil().ifPresent(l -> out.append(";lockedUntil=").append(l));
        copy.gone().ifPresent(g -> out.append(";gone=").append(g));
        copy.spoiled().ifPresent(s -> out.append(";spoiled=").append(s.found()));
        return out.toString();
    }

    private static String number(OptionalDouble value) {
        return value.isPresent() ? String.valueOf(Math.round(value.getAsDouble())) : "";
    }

    private static String text(Optional<?> value) {
        return value.map(Object::toString).orElse("");
    }

    @Override
    public void close() throws IOException {
        out.close(true);
    }
}
