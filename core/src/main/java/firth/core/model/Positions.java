package firth.core.model;

/** Log positions in one stream, {@code 0 <= from <= to}. */
public record Positions(long from, long to) {

    public Positions {
        if (from < 0 || to < from) {
            throw new IllegalArgumentException("positions run from " + from + " to " + to);
        }
    }
}
