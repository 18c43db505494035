package firth.store;

import firth.core.history.BackupRow;
import firth.core.history.CopyRow;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.model.Evidence;
import firth.core.model.Kind;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Set;

/**
 * Takes a sound pack apart, straight into the columns of a history. Rows of lineages and streams the database does not list have
 * no effect.
 */
final class Unpacking {

    private static final Kind[] KINDS = Kind.values();
    private static final int ID_ROOM = 512;
    private static final Evidence[] KNOWN = Evidence.values();
    private static final int UNKNOWN = -2;

    private final Bytes in;
    private final Set<Long> leftOut;
    /** The id taken last: the next says how much of it it shares. Ids are at most 120 characters. */
    private final byte[] idBytes = new byte[ID_ROOM];

    private final HistoryBuilder history;

    /** Words that come again and again, with what they stand for as a lineage, a stream and a store. */
    private String[] words = new String[16];

    private int[] lineages = new int[16];
    private int[] streams = new int[16];
    private int[] stores = new int[16];
    private int known;

    private long num;
    private long started;
    private long ended;
    private long to;
    private long toTime;
    private boolean taken;

    /** @param leftOut numbers of backups to be passed over */
    Unpacking(byte[] pack, Set<Long> leftOut, HistoryBuilder history) {
        this.in = new Bytes(pack, Pack.HEAD);
        this.leftOut = leftOut;
        this.history = history;
    }

    void run() {
        for (int what = in.takeByte(); what != Pack.END; what = in.takeByte()) {
            if (what == Pack.BACKUP) {
                backup();
            } else if (what == Pack.POSITIONS) {
                positions();
            } else if (what == Pack.EVIDENCE) {
                evidence();
            } else {
                copy(what);
            }
        }
    }

    /** The number of a word, -1 where there is none. */
    private int word() {
        int number = (int) in.takePlain();
        if (number != 1) {
            return number - 2 < 0 ? -1 : number - 2;
        }
        if (known == words.length) {
            words = Arrays.copyOf(words, 2 * known);
            lineages = Arrays.copyOf(lineages, 2 * known);
            streams = Arrays.copyOf(streams, 2 * known);
            stores = Arrays.copyOf(stores, 2 * known);
        }
        words[known] = in.takeText();
        lineages[known] = history.lineage(words[known]);
        streams[known] = history.stream(words[known]);
        stores[known] = UNKNOWN;
        return known++;
    }

    private void backup() {
        int flags = in.takeByte();
        Kind kind = KINDS[flags & 7];
        num += in.take();
        int idLength = in.takeText(idBytes, (int) in.takePlain());
        int lineageWord = word();
        int streamWord = word();
        boolean streamed = (flags & Pack.STREAMED) != 0;
        long lag = streamed ? in.take() : 0;
        String parent = (flags & Pack.RELATED) != 0 ? in.takeText() : "";
        String run = (flags & Pack.RELATED) != 0 ? in.takeText() : "";
        started += in.take();
        ended = started + in.take();
        long consistentAt = ended + in.take();
        long from = -1;
        long end = -1;
        if ((flags & Pack.POSITIONED) != 0) {
            from = to + in.take();
            end = from + in.take();
            to = end;
        }
        long fromTime = History.ALWAYS;
        long untilTime = History.ALWAYS;
        if ((flags & Pack.TIMED) != 0) {
            fromTime = toTime + in.take();
            untilTime = fromTime + in.take();
            toTime = untilTime;
        }
        int lineage = lineageWord < 0 ? history.firstLineage() : lineages[lineageWord];
        int stream = streamWord < 0 ? -1 : streams[streamWord];
        boolean log = kind == Kind.LOG;
        taken = lineage >= 0 && (!log || stream >= 0) && (leftOut.isEmpty() || !leftOut.contains(num));
        if (!taken) {
            return;
        }
        boolean own = log || stream == 0;
        history.add(new BackupRow(
                new String(idBytes, 0, idLength, StandardCharsets.UTF_8),
                kind,
                lineage,
                log ? stream : -1,
                parent,
                run,
                new BackupRow.During(started, ended, consistentAt),
                (flags & Pack.SELF_CONTAINED) != 0,
                new BackupRow.Extent(own ? from : -1, own ? end : -1, fromTime, untilTime)));
        if (!own) {
            history.addPositions(stream, from, end);
        }
        if (log && streamed) {
            history.streamed(lag);
        }
    }

    private void positions() {
        int word = word();
        long from = in.take();
        long length = in.take();
        if (taken) {
            history.addPositions(word < 0 ? -1 : streams[word], from, from + length);
        }
    }

    private void evidence() {
        Evidence how = KNOWN[in.takeByte()];
        if (taken) {
            history.known(how);
        }
    }

    private void copy(int flags) {
        int word = word();
        long landed = ended + in.take();
        long lockedUntil = (flags & Pack.LOCKED) != 0 ? landed + in.take() : History.ALWAYS;
        long gone = (flags & Pack.GONE) != 0 ? landed + in.take() : History.NEVER;
        long found = (flags & Pack.FOUND) != 0 ? landed + in.take() : History.NEVER;
        long since = (flags & Pack.SINCE) != 0 ? landed + in.take() : History.ALWAYS;
        double bytes = (flags & Pack.BYTES) != 0 ? in.takeDouble() : Double.NaN;
        if (taken) {
            if (stores[word] == UNKNOWN) {
                stores[word] = history.storeIndex(words[word]);
            }
            boolean stated = (flags & Pack.STATED) != 0;
            history.addCopy(stores[word], new CopyRow(landed, stated, lockedUntil, gone, found, since, bytes));
        }
    }
}
