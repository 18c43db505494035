package firth.runner.drills;

/** A drill cannot be tried here, which says nothing of the copies; the message is a clause that says why. */
final class Untried extends Exception {
    private static final long serialVersionUID = 1;

    Untried(String why) {
        super(why);
    }
}
