package firth.runner;

/** Something did not go; the message says what and why, for whoever reads how a run ended. */
final class Trouble extends Exception {
    private static final long serialVersionUID = 1;

    private final String output;

    Trouble(String why) {
        this(why, "");
    }

    /** @param output the engine's own words */
    Trouble(String why, String output) {
        super(why);
        this.output = output;
    }

    String output() {
        return output;
    }

    String why() {
        return String.valueOf(getMessage());
    }
}
