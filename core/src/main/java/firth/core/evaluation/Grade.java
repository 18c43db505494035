package firth.core.evaluation;

/** A database's state in one word, from worst to best; of a new one nothing is known yet (docs/semantics.md, "Reach and grade"). */
public enum Grade {
    STRANDED,
    BEHIND,
    SHORT,
    COVERED,
    NEW;

    public String word() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
