package firth.core;

import java.util.List;

/** A database holds facts that the core does not compute yet; an answer without them would be wrong. */
public final class NotComputed extends RuntimeException {

    private final transient List<String> what;

    public NotComputed(String database, List<String> what) {
        super(database + " has " + String.join(" and ", what)
                + ", which this version does not compute; its cover is not stated rather than stated wrongly");
        this.what = List.copyOf(what);
    }

    public List<String> what() {
        return what;
    }
}
