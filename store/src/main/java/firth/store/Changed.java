package firth.store;

/** What somebody acted on is no longer as it was when they looked: nothing of what they asked for was done. */
public final class Changed extends RuntimeException {

    /** @param what what is so now, as a sentence */
    public Changed(String what) {
        super(what);
    }
}
