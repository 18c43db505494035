package firth.store;

/** Facts could not be read or written; the message says what is unharmed. */
public final class StoreFailure extends RuntimeException {

    StoreFailure(String message) {
        super(message);
    }

    StoreFailure(String message, Throwable cause) {
        super(message, cause);
    }
}
