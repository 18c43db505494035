package firth.server.platform;

import java.time.Duration;

/** Somebody is not let in, or may not do what they asked for. */
public final class Refused extends RuntimeException {

    private final int status;
    private final String remedy;

    private Refused(int status, String what, String remedy) {
        super(what);
        this.status = status;
        this.remedy = remedy;
    }

    public static Refused unknown() {
        return new Refused(
                401,
                "The name and the secret do not belong together.",
                "Try again; after a few wrong tries you have to wait.");
    }

    public static Refused wait(Duration wait) {
        return new Refused(
                429,
                "Too many wrong passwords were given for this name.",
                "Try again in " + Math.max(1, wait.plusMillis(999).toSeconds()) + " s, or ask an administrator.");
    }

    /** The other service people sign in through did not do its part. */
    public static Refused elsewhere(String what) {
        return new Refused(401, what, "Try again, or sign in with a password; the server's log says more.");
    }

    /** Somebody known who may not do this one thing, for a reason beyond their roles. */
    public static Refused notYours(String what, String remedy) {
        return new Refused(403, what, remedy);
    }

    public int status() {
        return status;
    }

    public String remedy() {
        return remedy;
    }
}
