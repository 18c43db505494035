package firth.core.record;

import java.util.Optional;

/**
 * Walks the record from its first entry and finds where it was altered. An end that was cut off cannot be told from the
 * record alone: hold the last number and hash against what was written down elsewhere.
 */
public final class Chain {

    private long number;
    private String head = Deed.BEFORE_FIRST;
    private Optional<Break> broken = Optional.empty();

    /**
     * Where the record stops being whole.
     *
     * @param number the entry that does not fit
     * @param what what is wrong with it
     */
    public record Break(long number, String what) {}

    /** Takes the next entry; after one that does not fit no further one is looked at. */
    public void add(Deed deed) {
        if (broken.isPresent()) {
            return;
        }
        broken = flaw(deed).map(what -> new Break(deed.number(), what));
        if (broken.isEmpty()) {
            number = deed.number();
            head = deed.hash();
        }
    }

    private Optional<String> flaw(Deed deed) {
        if (deed.number() != number + 1) {
            return Optional.of("entry " + (number + 1) + " is missing before it");
        }
        if (!deed.previous().equals(head)) {
            return Optional.of("it does not follow from the entry before it");
        }
        return deed.hash().equals(deed.computed())
                ? Optional.empty()
                : Optional.of("what it says is not what was written down");
    }

    /** How many entries are whole. */
    public long length() {
        return number;
    }

    /** The hash of the last whole entry. */
    public String head() {
        return head;
    }

    /** The first entry that does not fit. */
    public Optional<Break> broken() {
        return broken;
    }
}
