package firth.agent;

import java.io.IOException;

/** A path at which nothing is deleted, however it came about; the message says why. */
final class Unsafe extends IOException {
    private static final long serialVersionUID = 1;

    Unsafe(String why) {
        super(why);
    }
}
