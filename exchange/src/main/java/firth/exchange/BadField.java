package firth.exchange;

/** A value that cannot be taken, or may not be by whoever reads; rejects the line it stands on. */
public final class BadField extends RuntimeException {

    private final String field;

    public BadField(String field, String reason) {
        super(reason, null, false, false);
        this.field = field;
    }

    public String field() {
        return field;
    }
}
