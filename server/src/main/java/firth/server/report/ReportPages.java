package firth.server.report;

import firth.server.paper.Sheet;
import jakarta.enterprise.context.ApplicationScoped;

/** Reports as documents, for whoever sends them. */
@ApplicationScoped
public class ReportPages {

    private final Reporting reporting;

    ReportPages(Reporting reporting) {
        this.reporting = reporting;
    }

    public Sheet sheet(Scope scope) {
        return Rendered.sheet(reporting.report(scope));
    }
}
