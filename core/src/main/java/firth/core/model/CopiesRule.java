package firth.core.model;

/** How many copies every backup must have: in distinct stores, on distinct media, at another site, with a lock. */
public record CopiesRule(int stores, int media, int offsite, int locked) {

    public static final CopiesRule NONE = new CopiesRule(0, 0, 0, 0);
}
