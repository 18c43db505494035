package firth.engines;

import firth.core.model.Backup.LogTimes;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import firth.core.model.Positions;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A backup as its files tell of it.
 *
 * @param name within its database, made of the characters of an id
 * @param store where this copy of it lies
 * @param path its file, or the root of its directory, from the directory that was looked through
 * @param parent the name of the backup it needs
 * @param lineage the engine's own number
 * @param positions where it begins and ends in the logs; absent where nothing says so
 * @param written the positions as the engine writes them
 * @param times the times a log covers
 * @param lastCommit the last commit in a log
 * @param sealed whether a log is finished; one that is not grows in place
 * @param consistentAt the moment a data backup restores by itself
 * @param bytes the size of all its members
 * @param form how its files were written
 * @param wrong why it restores nothing, as a clause: a file of it is missing or not what its manifest says
 * @param members its files, none where it is one: those of a directory from its root, else those side by side, the one at its path first
 */
public record ObservedBackup(
        String name,
        String store,
        String path,
        Kind kind,
        Optional<String> parent,
        String lineage,
        Optional<Positions> positions,
        Optional<Written> written,
        Optional<LogTimes> times,
        Optional<Instant> lastCommit,
        boolean sealed,
        Instant started,
        Instant ended,
        Instant consistentAt,
        boolean selfContained,
        Instant landed,
        long bytes,
        Form form,
        Evidence evidence,
        Optional<String> wrong,
        List<Member> members) {

    public ObservedBackup {
        members = List.copyOf(members);
    }

    /** Whether its path is a directory. */
    public boolean isDirectory() {
        return !members.isEmpty() && !isBeside();
    }

    /** The bytes of what lies at its path: of a directory all that is in it, of several files side by side the one there. */
    public long bytesAtPath() {
        return isBeside() ? members.get(0).bytes() : bytes;
    }

    private boolean isBeside() {
        return !members.isEmpty() && members.get(0).path().equals(path.substring(path.lastIndexOf('/') + 1));
    }

    /**
     * Positions in the engine's own writing.
     *
     * @param transactions the last transaction of each domain or server up to {@code to}, where the engine numbers them
     */
    public record Written(String from, String to, Optional<String> transactions) {

        public Written(String from, String to) {
            this(from, to, Optional.empty());
        }
    }

    /**
     * How files were written.
     *
     * @param key the name of the key they are encrypted with; empty where they are not
     */
    public record Form(boolean compressed, Optional<String> key) {

        public static final Form PLAIN = new Form(false, Optional.empty());
    }

    /** A file of a backup: its path from the backup's root. */
    public record Member(String path, long bytes) {}
}
