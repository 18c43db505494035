package firth.runner;

/** Something did not go; the message says what and why, for whoever reads how a run ended. */
public class Trouble extends Exception {
    private static final long serialVersionUID = 1;

    private final String output;

    public Trouble(String why) {
        this(why, "");
    }

    /** @param output the engine's own words */
    public Trouble(String why, String output) {
        super(why);
        this.output = output;
    }

    public String output() {
        return output;
    }

    /** What was thrown, in words: of a file that may not be reached its message is the path alone. */
    static String said(Exception e) {
        return e.getClass().getSimpleName().replace("Exception", "") + ": " + e.getMessage();
    }

    public String why() {
        return String.valueOf(getMessage());
    }
}
