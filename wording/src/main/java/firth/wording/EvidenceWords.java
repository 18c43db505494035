package firth.wording;

import firth.core.model.Evidence;
import firth.core.restore.Footing;
import java.util.List;

/** How copies are known, in words. */
public final class EvidenceWords {

    private EvidenceWords() {}

    /** What a way back rests on: a sentence. */
    public static String of(Footing footing) {
        if (footing.read() == 1) {
            return "The one backup it reads is " + of(footing.weakest()) + ".";
        }
        return "Of the " + footing.read() + " backups it reads, " + parts(footing) + ".";
    }

    /** What all of cover rests on: a sentence. */
    public static String ofCover(Footing footing) {
        return footing.read() == 1
                ? "Cover as a whole rests on one backup, which is " + of(footing.weakest()) + "."
                : "Of the " + footing.read() + " that cover as a whole rests on, " + parts(footing) + ".";
    }

    private static String parts(Footing footing) {
        List<String> parts = footing.backups().entrySet().stream()
                .map(e -> e.getValue() + (e.getValue() == 1 ? " is " : " are ") + of(e.getKey()))
                .toList();
        return parts.size() == 1 ? "all are " + of(footing.weakest()) : Wording.joined(parts);
    }

    /** How one copy is known, after "it is". */
    static String of(Evidence evidence) {
        return switch (evidence) {
            case TOLD -> "known by word alone";
            case LISTED -> "listed by the store";
            case READ -> "read through";
            case CHECKED -> "checked by checksum";
            case VERIFIED -> "verified by the engine";
            case RESTORED -> "proved by a restore";
        };
    }
}
