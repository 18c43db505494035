package firth.server.evaluation;

import java.util.List;

/** Whether things are the very same, which is known without looking into them. */
final class Same {

    private Same() {}

    static boolean is(Object one, Object other) {
        return one == other;
    }

    /** Whether lists hold the very same things in the same order. */
    static boolean each(List<?> some, List<?> others) {
        if (some.size() != others.size()) {
            return false;
        }
        for (int i = 0; i < some.size(); i++) {
            if (!is(some.get(i), others.get(i))) {
                return false;
            }
        }
        return true;
    }
}
