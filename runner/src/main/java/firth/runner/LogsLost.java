package firth.runner;

/** An engine removed logs that nobody had fetched. What it has still was fetched. */
final class LogsLost extends Trouble {

    private static final long serialVersionUID = 1;

    LogsLost(String why) {
        super(why);
    }
}
