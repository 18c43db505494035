package firth.server.platform;

/** What was asked for does not go together with what is so now; nothing of it was done. */
public final class Conflict extends RuntimeException {

    private final String remedy;

    /** @param what what is so now, as a sentence */
    public Conflict(String what, String remedy) {
        super(what);
        this.remedy = remedy;
    }

    public String remedy() {
        return remedy;
    }
}
