package firth.exchange;

import com.fasterxml.jackson.core.JsonGenerator;
import firth.core.adherence.Attempt;
import firth.core.adherence.CadenceGap;
import firth.core.adherence.Slot;
import firth.core.cover.Gap;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.HazardEvaluation;
import firth.core.evaluation.Reach;
import firth.core.findings.Finding;
import firth.core.model.Hazard;
import firth.core.objective.Achieved;
import firth.core.objective.Breach;
import firth.core.retention.Retention;
import firth.core.time.Span;
import firth.wording.FindingWords;
import firth.wording.Said;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/** Writes evaluations as the exchange's JSON (docs/exchange.md, "The answers"). One document per use. */
public final class EvaluationJson implements AutoCloseable {

    private final JsonGenerator out;

    /** Opens the document; {@code to} is left open by {@link #close}. */
    public EvaluationJson(OutputStream to, Instant asOf, Span period, List<ImportReport.Rejected> rejected)
            throws IOException {
        out = Json.MAPPER.getFactory().createGenerator(to).disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
        out.writeStartObject();
        out.writeStringField("asOf", asOf.toString());
        out.writeObjectFieldStart("period");
        out.writeStringField("from", period.from().toString());
        out.writeStringField("to", period.to().toString());
        out.writeEndObject();
        out.writeArrayFieldStart("rejected");
        for (ImportReport.Rejected r : rejected) {
            out.writeStartObject();
            out.writeStringField("file", r.file());
            out.writeNumberField("line", r.line());
            out.writeStringField("field", r.field());
            out.writeStringField("reason", r.reason());
            out.writeEndObject();
        }
        out.writeEndArray();
        out.writeArrayFieldStart("databases");
    }

    /** @param found what is wrong with the database, in order */
    public void write(Evaluation e, List<Finding> found) throws IOException {
        out.writeStartObject();
        out.writeStringField("id", e.database().id());
        out.writeStringField("grade", e.grade().word());
        out.writeBooleanField("pointsOnly", e.pointsOnly());
        out.writeObjectFieldStart("hazards");
        for (Hazard hazard : Hazard.values()) {
            hazard(hazard, e.under(hazard));
        }
        out.writeEndObject();
        reach(e.reach());
        out.writeArrayFieldStart("gaps");
        for (Gap gap : e.gaps()) {
            gap(gap);
        }
        out.writeEndArray();
        slots(e.slots());
        cadence(e.cadence());
        retention(e);
        findings(found);
        out.writeEndObject();
    }

    private void findings(List<Finding> findings) throws IOException {
        out.writeArrayFieldStart("findings");
        for (Finding finding : findings) {
            out.writeStartObject();
            out.writeStringField("code", finding.code());
            out.writeStringField("severity", finding.severity().word());
            instant("since", finding.since());
            Said said = FindingWords.of(finding);
            out.writeStringField("text", said.text());
            out.writeStringField("action", said.action());
            out.writeEndObject();
        }
        out.writeEndArray();
    }

    private void slots(List<Slot> slots) throws IOException {
        out.writeArrayFieldStart("slots");
        for (Slot slot : slots) {
            out.writeStartObject();
            out.writeStringField("schedule", slot.schedule());
            out.writeStringField("open", slot.open().toString());
            out.writeStringField("close", slot.close().toString());
            out.writeStringField("verdict", slot.verdict().word());
            out.writeArrayFieldStart("runs");
            for (Attempt run : slot.runs()) {
                out.writeString(run.id());
            }
            out.writeEndArray();
            seconds("spillSeconds", slot.spill());
            out.writeEndObject();
        }
        out.writeEndArray();
    }

    private void cadence(List<CadenceGap> gaps) throws IOException {
        out.writeArrayFieldStart("cadence");
        for (CadenceGap gap : gaps) {
            out.writeStartObject();
            out.writeStringField("schedule", gap.schedule());
            out.writeStringField("stream", gap.stream());
            out.writeStringField("from", gap.from().toString());
            instant("to", gap.to());
            out.writeNumberField("missed", gap.missed());
            out.writeEndObject();
        }
        out.writeEndArray();
    }

    private void hazard(Hazard hazard, HazardEvaluation h) throws IOException {
        out.writeObjectFieldStart(hazard.field());
        instant("recoveryPoint", h.recoveryPoint());
        seconds("ageSeconds", h.age());
        optionalSeconds("objectiveSeconds", h.objective());
        Achieved a = h.achieved();
        out.writeObjectFieldStart("achieved");
        seconds("maxSeconds", a.max());
        seconds("meanSeconds", a.mean());
        seconds("p50Seconds", a.p50());
        seconds("p95Seconds", a.p95());
        seconds("p99Seconds", a.p99());
        ratio("attainment", a.attainment());
        out.writeEndObject();
        out.writeArrayFieldStart("breaches");
        for (Breach b : h.breaches()) {
            out.writeStartObject();
            out.writeStringField("from", b.from().toString());
            out.writeStringField("to", b.to().toString());
            seconds("worstSeconds", (double) b.worstMs());
            out.writeEndObject();
        }
        out.writeEndArray();
        out.writeArrayFieldStart("restorable");
        for (Piece p : h.restorable()) {
            out.writeStartObject();
            out.writeStringField("lineage", p.lineage());
            out.writeStringField("from", p.from().toString());
            out.writeStringField("to", p.to().toString());
            out.writeEndObject();
        }
        out.writeEndArray();
        out.writeEndObject();
    }

    private void reach(Reach reach) throws IOException {
        out.writeObjectFieldStart("reach");
        optionalSeconds("targetSeconds", reach.target());
        seconds("achievedSeconds", reach.achieved());
        ratio("cover", reach.cover());
        out.writeEndObject();
    }

    private void gap(Gap gap) throws IOException {
        out.writeStartObject();
        out.writeStringField("lineage", gap.lineage());
        out.writeStringField("stream", gap.stream());
        out.writeNumberField("from", gap.from());
        out.writeNumberField("to", gap.to());
        instant("after", gap.after());
        instant("before", gap.before());
        out.writeStringField("state", gap.bridged() ? "bridged" : "unbridged");
        out.writeStringField("bridgedBy", gap.bridgedBy().orElse(null));
        out.writeStringField("cause", gap.cause().word());
        out.writeEndObject();
    }

    private void retention(Evaluation e) throws IOException {
        Retention retention = e.retention();
        out.writeArrayFieldStart("retention");
        List<Integer> order = IntStream.range(0, retention.size())
                .boxed()
                .sorted(Comparator.<Integer, String>comparing(r -> e.history().id(retention.backup(r)))
                        .thenComparing(retention::store))
                .toList();
        for (int r : order) {
            out.writeStartObject();
            out.writeStringField("backup", e.history().id(retention.backup(r)));
            out.writeStringField("store", retention.store(r));
            out.writeStringField("verdict", retention.verdict(r).word());
            out.writeArrayFieldStart("reasons");
            for (String reason : retention.reasons(r)) {
                out.writeString(reason);
            }
            out.writeEndArray();
            out.writeNumberField("bytes", Double.isNaN(retention.bytes(r)) ? 0 : retention.bytes(r));
            out.writeEndObject();
        }
        out.writeEndArray();
    }

    private void instant(String name, Optional<Instant> moment) throws IOException {
        out.writeStringField(name, moment.map(Instant::toString).orElse(null));
    }

    private void seconds(String name, double millis) throws IOException {
        out.writeNumberField(name, BigDecimal.valueOf(millis / 1000).setScale(3, RoundingMode.HALF_UP));
    }

    private void seconds(String name, Duration duration) throws IOException {
        seconds(name, (double) duration.toMillis());
    }

    private void optionalSeconds(String name, Optional<Duration> duration) throws IOException {
        if (duration.isPresent()) {
            seconds(name, duration.get());
        } else {
            out.writeNullField(name);
        }
    }

    private void ratio(String name, Optional<Double> ratio) throws IOException {
        if (ratio.isPresent()) {
            out.writeNumberField(name, BigDecimal.valueOf(ratio.get()).setScale(9, RoundingMode.HALF_UP));
        } else {
            out.writeNullField(name);
        }
    }

    @Override
    public void close() throws IOException {
        out.writeEndArray();
        out.writeEndObject();
        out.close();
    }
}
