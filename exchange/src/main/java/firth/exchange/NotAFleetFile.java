package firth.exchange;

/** The whole input cannot be used; the message says why in one sentence, and nothing of it was taken. */
public final class NotAFleetFile extends RuntimeException {

    public NotAFleetFile(String message) {
        super(message);
    }
}
