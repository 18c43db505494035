package firth.core.cover;

/** What a hazard leaves of a database's backups at one moment. */
interface Standing {

    /** Nothing can be restored. */
    long NOTHING = Long.MIN_VALUE;

    /** Whether a data backup and its whole chain are there. */
    boolean usable(int b);

    /** Whether logs of a stream that a data backup needs to be consistent are missing. */
    boolean tornIn(int b, int stream, long at);

    int streams();

    /** Whether logs that a data backup needs to be consistent are missing. */
    default boolean torn(int b, long at) {
        for (int s = 0; s < streams(); s++) {
            if (tornIn(b, s, at)) {
                return true;
            }
        }
        return false;
    }

    /** The latest instant a data backup restores in its own lineage, by itself or with logs; never before its own. */
    long restoresUpTo(int b, long moment);

    /** Where the logs of a line from a position on run out. */
    long extendsTo(int lineage, int stream, long position);

    /** Whether some backup carries over into a lineage. */
    boolean entered(int lineage);

    /** Whether the logs of its own lineage take a data backup to where a child of that lineage left it. */
    boolean carries(int b, int child, long at);

    /** Whether the logs of a lineage's parent lead from where the parent began to where the lineage left it. */
    boolean forkReaches(int child, long at);

    /** The latest instant restored in a lineage by what carries over into it. */
    long entryRestoresUpTo(int lineage, long moment);
}
