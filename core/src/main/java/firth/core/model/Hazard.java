package firth.core.model;

/** What happens to the copies, and so which survive (docs/semantics.md, "Availability and hazards"). */
public enum Hazard {
    /** A dropped table, a lost disk: every available copy survives. */
    MISHAP("mishap"),
    /** The database's own site is lost: copies at other sites survive. */
    SITE_LOSS("siteLoss"),
    /** Somebody deletes what can be deleted: locked copies survive. */
    SABOTAGE("sabotage");

    private final String field;

    Hazard(String field) {
        this.field = field;
    }

    /** The name in the exchange format. */
    public String field() {
        return field;
    }
}
