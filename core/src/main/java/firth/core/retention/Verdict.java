package firth.core.retention;

/** What a copy is, as of now: a rule needs it, none does, or it restores nothing. */
public enum Verdict {
    NEEDED,
    OBSOLETE,
    UNUSABLE;

    public String word() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
