package firth.server.reports;

import firth.server.documents.Document;
import jakarta.enterprise.context.ApplicationScoped;

/** Reports as documents, for whoever sends them. */
@ApplicationScoped
public class ReportPages {

    private final ReportMaker reporting;

    ReportPages(ReportMaker reporting) {
        this.reporting = reporting;
    }

    public Document sheet(ReportScope scope) {
        return ReportDocument.sheet(reporting.report(scope));
    }
}
