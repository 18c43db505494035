package firth.server.intake;

import firth.core.history.Catalog;
import firth.core.record.Deed;
import firth.core.record.Digests;
import firth.exchange.ImportReport;
import firth.exchange.Json;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.Who;
import firth.store.Deliveries;
import firth.store.FactStore;
import firth.store.Turned;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.InputStream;
import java.security.DigestInputStream;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Takes facts in, whatever they are written as, and says what became of them. */
@ApplicationScoped
public class Importing {

    private final FactsHolder facts;
    private final Lookout lookout;
    private final StandingAssignment standing;
    private final DeliveryFilter permitted;
    private final Who who;
    private final Evaluations evaluations;

    Importing(
            FactsHolder facts,
            Lookout lookout,
            StandingAssignment standing,
            DeliveryFilter permitted,
            Evaluations evaluations,
            Who who) {
        this.evaluations = evaluations;
        this.facts = facts;
        this.lookout = lookout;
        this.standing = standing;
        this.permitted = permitted;
        this.who = who;
    }

    /** Reads facts that came as bytes into a catalog. */
    public interface Reading {
        ImportReport read(InputStream body, Catalog catalog) throws IOException;
    }

    private record Delivered(
            String source,
            boolean isProgram,
            Optional<Instant> newestFact,
            Optional<Deliveries.Came> came,
            Optional<Deed.Told> deed,
            List<Turned.Turn> turned)
            implements FactStore.Delivery {}

    /** A name facts may come under. */
    static void checkSource(String source) {
        if (source.isBlank() || source.length() > 120) {
            throw new BadRequest("source", "is not a name of 1 to 120 characters");
        }
    }

    /** Takes facts in one transaction; databases nobody knew fall under the standing rules. */
    public ImportView take(String source, InputStream body, Reading reading) throws IOException {
        return take(source, false, body, reading);
    }

    /** @param turning whether known records may become ones of another database, kind or lineage */
    public ImportView take(String source, boolean turning, InputStream body, Reading reading) throws IOException {
        checkSource(source);
        DigestInputStream hashed = new DigestInputStream(body, Digests.sha256());
        List<Turned.Turn> turned = new ArrayList<>();
        List<NamedDatabases> named = new ArrayList<>();
        ImportReport report = facts.store()
                .write(
                        catalog -> {
                            DeliveryFilter.Passed passed = permitted.of(catalog, turning);
                            NamedDatabases counted =
                                    new NamedDatabases(new ReceivingLogs(passed.catalog(), lookout.now()));
                            named.add(counted);
                            ImportReport read = reading.read(who.isProgram() ? hashed : body, counted);
                            turned.addAll(passed.turned());
                            return read;
                        },
                        r -> new Delivered(
                                source,
                                who.isProgram(),
                                r.newestFact().map(lookout::believed),
                                who.isProgram() ? came(source, r, hashed) : Optional.empty(),
                                who.isProgram() ? Optional.empty() : told(source, r),
                                turned),
                        lookout.now());
        int assigned = standing.catchNew();
        Set<String> known = known();
        return view(
                report,
                assigned,
                named.stream().flatMap(n -> n.unknown(known).stream()).toList());
    }

    /** The ids of the databases there are. */
    Set<String> known() {
        return evaluations.fleetNow().databases().keySet();
    }

    /** What is counted of a program's delivery; nothing where it changed nothing. */
    private Optional<Deliveries.Came> came(String source, ImportReport report, DigestInputStream hashed) {
        return Optional.of(new Deliveries.Came(
                        who.id(),
                        source,
                        report.lines(),
                        report.added(),
                        report.updated(),
                        report.rejected().size(),
                        HexFormat.of().formatHex(hashed.getMessageDigest().digest())))
                .filter(c -> c.added() + c.updated() > 0);
    }

    /** What the record says of a delivery; nothing where it changed nothing. */
    private Optional<Deed.Told> told(String source, ImportReport report) {
        if (report.added() + report.updated() == 0) {
            return Optional.empty();
        }
        return Optional.of(new Deed.Told(
                who.id(),
                "import",
                source,
                Json.MAPPER
                        .createObjectNode()
                        .put("lines", report.lines())
                        .put("added", report.added())
                        .put("updated", report.updated())
                        .put("rejected", report.rejected().size())
                        .toString()));
    }

    static ImportView view(ImportReport report, int assigned, List<ImportView.UnknownDatabase> unknown) {
        return new ImportView(
                report.file(),
                report.lines(),
                report.added(),
                report.updated(),
                report.unchanged(),
                assigned,
                report.rejected().size(),
                report.rejected().stream()
                        .limit(ImportReport.KEPT)
                        .map(r -> new ImportView.RejectedLine(r.line(), r.field(), r.reason(), r.text()))
                        .toList(),
                report.warnings().stream()
                        .limit(ImportReport.KEPT)
                        .map(w -> new ImportView.RejectedLine(w.line(), w.field(), w.text(), ""))
                        .toList(),
                report.header(),
                unknown);
    }
}
