package firth.exchange;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What became of the lines of one fleet file. */
public final class ImportReport {

    /** A line that was not taken: which field, why, and the line itself where it is not too long, for the first {@value #KEPT}. */
    public record Rejected(String file, long line, String field, String reason, String text) {}

    /** Something odd that was taken all the same; {@code line} is the first it was seen on. */
    public record Warning(String file, long line, String field, String text) {}

    private static final int LONGEST_TEXT = 20_000;

    /** So many lines are kept as they came, to be corrected and sent again. */
    public static final int KEPT = 2_000;

    private final String file;
    private String header = "";
    private long lines;
    private long added;
    private long updated;
    private long unchanged;
    private Optional<Instant> newestFact = Optional.empty();
    private final List<Rejected> rejected = new ArrayList<>();
    private final List<Warning> warnings = new ArrayList<>();

    ImportReport(String file) {
        this.file = file;
    }

    void count(firth.core.history.Catalog.Change change) {
        switch (change) {
            case ADDED -> added++;
            case UPDATED, TURNED -> updated++;
            case UNCHANGED -> unchanged++;
        }
    }

    void header(String row) {
        header = row;
    }

    void line() {
        lines++;
    }

    void reject(long line, String field, String reason, String text) {
        rejected.add(new Rejected(
                file, line, field, reason, rejected.size() < KEPT && text.length() <= LONGEST_TEXT ? text : ""));
    }

    void warn(long line, String field, String text) {
        warnings.add(new Warning(file, line, field, text));
    }

    void happened(Instant moment) {
        if (newestFact.filter(n -> !moment.isAfter(n)).isEmpty()) {
            newestFact = Optional.of(moment);
        }
    }

    /** Of a table the row that names its columns, so that rows of it can be sent again; else empty. */
    public String header() {
        return header;
    }

    public String file() {
        return file;
    }

    /** Lines that held something. */
    public long lines() {
        return lines;
    }

    public long added() {
        return added;
    }

    public long updated() {
        return updated;
    }

    public long unchanged() {
        return unchanged;
    }

    /** The newest moment at which something in the file is recorded to have happened. */
    public Optional<Instant> newestFact() {
        return newestFact;
    }

    public List<Rejected> rejected() {
        return List.copyOf(rejected);
    }

    public List<Warning> warnings() {
        return List.copyOf(warnings);
    }
}
