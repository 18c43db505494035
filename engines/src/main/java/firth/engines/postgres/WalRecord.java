package firth.engines.postgres;

/**
 * A record of the write-ahead log.
 *
 * @param lsn where it begins
 * @param previous where the record before it begins
 * @param manager the part of the engine it belongs to
 * @param info what of that part it is
 * @param length in bytes, header and all
 */
record WalRecord(long lsn, long previous, int manager, int info, int transaction, int length) {

    static final int XLOG = 0;
    static final int TRANSACTION = 1;

    private static final int KIND = 0xF0;
    private static final int SWITCH = 0x40;

    /** Whether the rest of its segment is empty. */
    boolean endsSegment() {
        return manager == XLOG && (info & KIND) == SWITCH;
    }
}
