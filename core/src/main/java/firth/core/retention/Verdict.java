package firth.core.retention;

import firth.core.model.Worded;

/** What a copy is, as of now: a rule needs it, none does, or it restores nothing. */
public enum Verdict implements Worded {
    NEEDED,
    OBSOLETE,
    UNUSABLE;
}
