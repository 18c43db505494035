package firth.wording;

import firth.core.findings.WayOut;

/** Ways out in words. */
public final class WayWords {

    private WayWords() {}

    /** What is done, where to, how long it takes and how much is written. */
    public static String of(WayOut way) {
        String size = way.bytes() > 0 ? ", " + Wording.bytes(way.bytes()) : "";
        String takes = way.takes().isZero() ? "how long is not known" : Wording.measured(way.takes()) + size;
        String where = way.storeName().isEmpty() ? "" : " to " + way.storeName();
        return switch (way.action()) {
            case CATCH_UP -> "Let the archiver clear its backlog" + where + ": " + takes;
            case TAKE -> "Take " + way.kind().map(Wording::aKind).orElse("a backup") + " now" + where + ": " + takes;
            case COPY -> "Copy the newest way back" + where + " now: " + takes;
        };
    }
}
