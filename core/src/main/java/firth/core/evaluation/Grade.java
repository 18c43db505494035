package firth.core.evaluation;

import firth.core.model.Worded;

/** A database's state in one word, from worst to best; of a new one nothing is known yet (docs/semantics.md, "Reach and grade"). */
public enum Grade implements Worded {
    STRANDED,
    BEHIND,
    SHORT,
    COVERED,
    NEW;
}
