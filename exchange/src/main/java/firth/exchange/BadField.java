package firth.exchange;

/** A value that cannot be taken, or may not be by whoever reads; rejects the line it stands on. */
public final class BadField extends RuntimeException {

    private final String field;
    private final String reason;

    public BadField(String field, String reason) {
        super(reason, null, false, false);
        this.field = field;
        this.reason = reason;
    }

    /** What is wrong with it, in a sentence. */
    public String reason() {
        return reason;
    }

    public String field() {
        return field;
    }
}
