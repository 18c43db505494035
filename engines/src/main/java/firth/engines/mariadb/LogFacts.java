package firth.engines.mariadb;

import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What a binary log tells.
 *
 * @param version of the server that wrote it
 * @param created when it was begun
 * @param end up to where it holds whole transactions
 * @param sealed whether the server has finished it
 * @param broken why reading ended before its end, empty where it did not
 * @param encrypted whether only the server can read its events
 * @param checked whether every event has a checksum, and all agreed
 * @param first when the first transaction in it was made
 * @param reached the latest moment of a transaction or of its end
 * @param lastCommit the latest moment of a transaction
 * @param transactionNumbers the last of each domain or server
 */
record LogFacts(
        long server,
        String version,
        Instant created,
        long end,
        boolean sealed,
        String broken,
        boolean encrypted,
        boolean checked,
        long events,
        long transactions,
        Optional<Instant> first,
        Optional<Instant> lastCommit,
        Instant reached,
        Map<String, String> transactionNumbers) {

    private static final String NONE = "-";
    private static final String BETWEEN = " ";
    private static final int FIXED = 13;

    LogFacts {
        transactionNumbers = Map.copyOf(transactionNumbers);
    }

    /** The last transaction of each, as the engine writes such a set. */
    Optional<String> numbers() {
        return transactionNumbers.isEmpty()
                ? Optional.empty()
                : Optional.of(String.join(",", new TreeMap<>(transactionNumbers).values()));
    }

    /** On one line. */
    String text() {
        StringBuilder out = new StringBuilder(String.join(
                BETWEEN,
                Long.toString(server),
                version.isEmpty() ? NONE : version.replace(' ', '_'),
                created.toString(),
                Long.toString(end),
                Boolean.toString(sealed),
                broken.isEmpty() ? NONE : broken.replace(' ', '_'),
                Boolean.toString(encrypted),
                Boolean.toString(checked),
                Long.toString(events),
                Long.toString(transactions),
                first.map(Instant::toString).orElse(NONE),
                lastCommit.map(Instant::toString).orElse(NONE),
                reached.toString()));
        transactionNumbers.forEach(
                (k, v) -> out.append(BETWEEN).append(k).append(BETWEEN).append(v));
        return out.toString();
    }

    static LogFacts parse(String line) {
        String[] f = line.split(BETWEEN, -1);
        Map<String, String> numbers = new TreeMap<>();
        for (int i = FIXED; i + 1 < f.length; i += 2) {
            numbers.put(f[i], f[i + 1]);
        }
        return new LogFacts(
                Long.parseLong(f[0]),
                f[1].equals(NONE) ? "" : f[1].replace('_', ' '),
                Instant.parse(f[2]),
                Long.parseLong(f[3]),
                Boolean.parseBoolean(f[4]),
                f[5].equals(NONE) ? "" : f[5].replace('_', ' '),
                Boolean.parseBoolean(f[6]),
                Boolean.parseBoolean(f[7]),
                Long.parseLong(f[8]),
                Long.parseLong(f[9]),
                moment(f[10]),
                moment(f[11]),
                Instant.parse(f[12]),
                numbers);
    }

    private static Optional<Instant> moment(String written) {
        return written.equals(NONE) ? Optional.empty() : Optional.of(Instant.parse(written));
    }
}
