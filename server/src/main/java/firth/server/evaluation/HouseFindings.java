package firth.server.evaluation;

import firth.core.findings.Finding;
import java.time.Instant;
import java.util.List;

/** Something of Firth's own that may go wrong, beside the databases it looks after. */
public interface HouseFindings {

    /** What is wrong with it now. */
    List<Finding> findings(Instant now);
}
