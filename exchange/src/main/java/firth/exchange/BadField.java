package firth.exchange;

/** A value that cannot be taken; rejects the line it stands on. */
final class BadField extends RuntimeException {

    private final String field;

    BadField(String field, String reason) {
        super(reason, null, false, false);
        this.field = field;
    }

    String field() {
        return field;
    }
}
