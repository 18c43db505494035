package firth.core.model;

/** A fact about the fleet that is not history: few of them, each replaced whole by a later statement of the same id. */
public interface FleetRecord {
    String id();

    /** What the exchange format calls records of this sort. */
    default String type() {
        return getClass().getSimpleName().toLowerCase(java.util.Locale.ROOT);
    }

    /** Whether any answer may change with it; what is only shown beside the answers says no. */
    default boolean isJudgedBy() {
        return true;
    }
}
