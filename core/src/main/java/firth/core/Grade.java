package firth.core;

/** A database's state in one word, from worst to best (docs/semantics.md, "Reach and grade"). */
public enum Grade {
    STRANDED,
    BEHIND,
    SHORT,
    COVERED;

    public String word() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
