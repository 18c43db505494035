package firth.core.stocktake;

import java.time.Instant;
import java.util.Optional;

/** In which way catalog and store differ in a file. */
public sealed interface Clue {

    /** The store lists no such file. */
    record NotListed() implements Clue {}

    /** Another backup claims the same path. */
    record ClaimedToo(String backup) implements Clue {}

    /** The store gives another checksum than was written. */
    record OtherChecksum(String checksum) implements Clue {}

    /** A directory does not have the members that were written: so many there, and so many written. */
    record OtherMembers(long there, long written) implements Clue {}

    /** The store gives another size than was written. */
    record OtherSize(long bytes) implements Clue {}

    /** @param until when its lock ends; empty where it is not locked */
    record ShorterLock(Optional<Instant> until) implements Clue {}

    /** Nobody knows the file. */
    record Unknown() implements Clue {}

    /** The file bears the name of a backup. */
    record BearsName(String backup) implements Clue {}
}
