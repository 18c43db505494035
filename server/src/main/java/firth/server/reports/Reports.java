package firth.server.reports;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.core.record.Deed;
import firth.core.time.Span;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Who;
import firth.store.Papers;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.UUID;

/** Reports that are kept: as they were made, and able to be made again. */
@ApplicationScoped
class Reports {

    private static final String SORT = "report";

    private final ReportMaker reporting;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;
    private final ObjectMapper json;

    Reports(ReportMaker reporting, FactsHolder facts, Lookout lookout, Who who, ObjectMapper json) {
        this.reporting = reporting;
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
        this.json = json;
    }

    ReportView.KeptReport keep(ReportScope scope) {
        ReportView report = reporting.report(scope);
        try {
            Papers.Paper paper = new Papers.Paper(
                    "report-" + UUID.randomUUID().toString().substring(0, 8),
                    SORT,
                    scope.by() + ":" + scope.of(),
                    who.id(),
                    lookout.now(),
                    json.writeValueAsString(report));
            facts.store()
                    .papers()
                    .keep(
                            paper,
                            new Deed.Told(
                                    who.id(),
                                    "report-kept",
                                    paper.id(),
                                    json.writeValueAsString(Map.of(
                                            "of", report.title(),
                                            "from", report.from().toString(),
                                            "to", report.to().toString()))));
            return row(paper, report);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A report cannot be written", e);
        }
    }

    private static ReportView.KeptReport row(Papers.Paper paper, ReportView report) {
        return new ReportView.KeptReport(
                paper.id(), report.title(), paper.by(), paper.made(), report.from(), report.to());
    }

    List<ReportView.KeptReport> all() {
        return facts.store().papers().all(SORT).stream()
                .map(p -> row(p, read(p.document())))
                .toList();
    }

    ReportView one(String id) {
        return facts.store()
                .papers()
                .one(SORT, id)
                .map(p -> read(p.document()))
                .orElseThrow(() -> new NotFound("There is no report " + id + "."));
    }

    /** Makes one again with the as-of it was made with, and says in what it differs. */
    ReportView.Again again(String id) {
        ReportView known = one(id);
        ReportScope scope = new ReportScope(known.by(), known.of(), new Span(known.from(), known.to()), known.asOf());
        JsonNode then = json.valueToTree(known);
        JsonNode now = json.valueToTree(read(write(reporting.report(scope))));
        List<String> differs = new ArrayList<>();
        TreeSet<String> names = new TreeSet<>();
        then.fieldNames().forEachRemaining(names::add);
        for (String name : names) {
            if (!then.get(name).equals(now.get(name))) {
                differs.add(name);
            }
        }
        return new ReportView.Again(differs.isEmpty(), differs);
    }

    private String write(ReportView report) {
        try {
            return json.writeValueAsString(report);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A report cannot be written", e);
        }
    }

    private ReportView read(String text) {
        try {
            return json.readValue(text, ReportView.class);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A report kept here cannot be read", e);
        }
    }
}
