package firth.server.platform;

/** Something asked for does not exist; the message says what. */
public final class NotFound extends RuntimeException {

    public NotFound(String message) {
        super(message);
    }
}
